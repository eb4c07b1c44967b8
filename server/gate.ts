import { timingSafeEqual, createHash } from 'node:crypto';
import { ApiError } from './apiError';

const LOOPBACK = /^(localhost|127(?:\.\d{1,3}){3}|\[::1\])(:\d+)?$/i;

/** The key that scripts show; needed where the server listens elsewhere than on this machine. */
const keyWanted = (): string | null => process.env['DENGUNG_KEY'] || null;
/** Names by which the server is reached besides this machine's own, parted by commas. */
const hostsKnown = (): readonly string[] =>
  (process.env['DENGUNG_HOSTS'] ?? '').split(',').flatMap((host) => host.trim().toLowerCase() || []);

/** Whether it listens on this machine alone, which those say who start it; where nobody says so, it is taken not to. */
const listensHere = (): boolean => LOOPBACK.test(process.env['DENGUNG_LISTENS'] ?? '');

const digest = (text: string): Buffer => createHash('sha256').update(text).digest();

/**
 * Lets a request in: from this machine, or with the key; never from a page of another origin.
 * @throws ApiError otherwise
 */
export function admit(request: Request): void {
  const { headers } = request;
  const host = (headers.get('host') ?? '').toLowerCase();
  const local = LOOPBACK.test(host);
  if (!local && !hostsKnown().includes(host))
    throw new ApiError(
      ...([403, 'otherHost', 'This server does not go by that name.'] as const),
      'Ask for 127.0.0.1, or name the host in DENGUNG_HOSTS.',
    );
  const origin = headers.get('origin');
  const site = headers.get('sec-fetch-site');
  const sameOrigin = origin === null || origin === `http://${host}` || origin === `https://${host}`;
  if (!sameOrigin || (site !== null && site !== 'same-origin' && site !== 'none'))
    throw new ApiError(
      ...([403, 'otherOrigin', 'Pages of other origins are not answered.'] as const),
      'Ask from the product itself, or from a script.',
    );
  const key = keyWanted();
  // What a request says of itself can be made up; where the server listens cannot.
  if (key === null && listensHere()) return;
  if (key === null)
    throw new ApiError(
      ...([403, 'noKey', 'Without a key only this machine is answered.'] as const),
      'Start the server with DENGUNG_KEY, and send it as: Authorization: Bearer KEY',
    );
  const shown = /^Bearer (.+)$/.exec(headers.get('authorization') ?? '')?.[1] ?? '';
  if (!timingSafeEqual(digest(shown), digest(key)))
    throw new ApiError(401, 'key', 'The key is missing or wrong.', 'Send it as: Authorization: Bearer KEY');
}
