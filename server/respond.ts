import { ApiError } from './apiError';
import { admit } from './gate';
import { errorFields, log, loggedPath } from './log';

const HEADERS = { 'Cache-Control': 'no-store' };

export const json = (value: unknown, status = 200, more: Readonly<Record<string, string>> = {}): Response =>
  Response.json(value, { status, headers: { ...HEADERS, ...more } });

/** Answers a request, or says why not as `{code, message, hint}`; nothing of what went wrong inside is told. */
export async function respond(request: Request, answer: () => Promise<Response>): Promise<Response> {
  try {
    admit(request);
    return await answer();
  } catch (error) {
    if (!(error instanceof ApiError) || error.status >= 500)
      log('error', 'request', {
        ...{ method: request.method, path: loggedPath(request.url) },
        ...(error instanceof ApiError ? { code: error.code } : {}),
        ...errorFields(error),
      });
    const { status, code, message, hint } =
      error instanceof ApiError
        ? error
        : new ApiError(
            500,
            'unexpected',
            'The server could not answer.',
            'Try again; if it happens again, report it.',
          );
    // A body that is not read to its end leaves the line unusable.
    const more: Record<string, string> = request.body ? { Connection: 'close' } : {};
    if (status === 429) more['Retry-After'] = '30';
    return json({ code, message, hint }, status === 499 ? 400 : status, more);
  }
}
