import { STAGES } from '../shell/stageNames';

/** Stands in an address for the id of a project: the page of one project is that of every other, but for its id. */
export const ANY_PROJECT = '__any-project__';

/** Pages of which a copy is held. */
export const PAGES: readonly string[] = [
  '/projects',
  '/audit',
  ...STAGES.map(({ id }) => `/project/${ANY_PROJECT}/${id}`),
];

/** The copied page that answers an address of a project, and the id to be filled in; `null` where it is of no project. */
export function templateOf(path: string): { readonly template: string; readonly id: string } | null {
  // Nothing else is ever made an id: what an address holds goes into a page.
  const [, id, stage = 'programme'] = /^\/project\/([\w-]{1,80})(?:\/(\w+))?\/?$/.exec(path) ?? [];
  if (!id || !STAGES.some((one) => one.id === stage)) return null;
  return { template: `/project/${ANY_PROJECT}/${stage}`, id };
}

/** A copied page with the id of a project in it. */
export async function filledIn(page: Response, id: string): Promise<Response> {
  const text = (await page.text()).replaceAll(ANY_PROJECT, id);
  const headers = new Headers(page.headers);
  headers.delete('content-length');
  headers.delete('content-encoding');
  return new Response(text, { status: page.status, headers });
}
