/** What a line of the log may hold besides what happened. */
type Fields = Readonly<Record<string, string | number | boolean | null | undefined>>;

/**
 * Writes a line to the log: JSON on stderr, one object a line. Neither keys nor the tokens of files ever stand there.
 * @param event what happened, such as `job`
 */
export function log(level: 'info' | 'error', event: string, fields: Fields = {}): void {
  if (process.env['DENGUNG_LOG'] === '0') return;
  process.stderr.write(`${JSON.stringify({ at: new Date().toISOString(), level, event, ...fields })}\n`);
}

/** An error for the log. */
export const errorFields = (error: unknown): Fields =>
  error instanceof Error
    ? { error: error.message, stack: error.stack ?? null }
    : { error: String(error), stack: null };

/** The path of a request without what gives access: tokens and ids of deliveries. */
export const loggedPath = (url: string): string =>
  new URL(url).pathname.replace(
    /\/(?:[0-9a-f]{48}|[0-9a-f]{8}(?:-[0-9a-f]{4}){3}-[0-9a-f]{12})(?=\/|$)/g,
    '/…',
  );
