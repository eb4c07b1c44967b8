import { Serwist, type PrecacheEntry } from 'serwist';
import { filledIn, PAGES, templateOf } from './templates';

/** What of a worker of this kind is used; its types cannot stand beside those of a page. */
declare const self: {
  /** All files of this version but its pages, and its name; put in by the build. */
  readonly __FILES: readonly PrecacheEntry[];
  readonly __BUILD: string;
};

/**
 * The script of a worker finds what it is to do behind the # of its address, which it gets from the answer: a copied answer has lost
 * that, one without an address leaves it what was asked for.
 */
function withOwnAddress({
  event,
  cachedResponse,
}: {
  readonly event: object;
  readonly cachedResponse?: Response;
}): Promise<Response | undefined> {
  const { request } = event as { readonly request?: Request };
  if (!cachedResponse || request?.destination !== 'worker') return Promise.resolve(cachedResponse);
  const { body, status, headers } = cachedResponse;
  return Promise.resolve(new Response(body, { status, headers }));
}

/**
 * Holds a copy of all files of one version, and answers with them whether the server is there or not: a page and what it brings in
 * later are always of one version. Sound and projects are not its business; requests to the server's interface go to the server.
 */
const copy: Serwist = new Serwist({
  precacheEntries: [...PAGES.map((url) => ({ url, revision: self.__BUILD })), ...self.__FILES],
  precacheOptions: { cleanupOutdatedCaches: true, plugins: [{ cachedResponseWillBeUsed: withOwnAddress }] },
  // A new version waits until somebody asks for it.
  skipWaiting: false,
  clientsClaim: true,
  runtimeCaching: [
    {
      matcher: ({ request }) => request.mode === 'navigate',
      handler: async ({ request, url }): Promise<Response> => {
        const found = templateOf(url.pathname);
        const page = found && (await copy.matchPrecache(found.template));
        if (page) return filledIn(page, found.id);
        try {
          return await fetch(request);
        } catch {
          return Response.redirect(new URL('/projects', url), 302);
        }
      },
    },
  ],
});
copy.addEventListeners();
