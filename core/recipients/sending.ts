import { isReceipt, type Receipt } from '@/core/deliver/receipt';

/** An answer of the server. */
interface LineAnswer {
  readonly status: number;
  readonly data: unknown;
}

/** The way to a server. @throws anything where the line breaks */
export type Line<T> = (
  method: 'GET' | 'POST' | 'PUT' | 'DELETE',
  path: string,
  body: T | string | null,
) => Promise<LineAnswer>;

/** A file on its way out. */
export interface Outgoing<T> {
  readonly name: string;
  readonly bytes: number;
  /** Of all of it, in hexadecimal. */
  readonly sha256: string;
  /** What it has in common with the other files of its delivery; left out where that is of one file. */
  readonly set?: string;
  /** A piece of it: bytes from one place to another. */
  readonly piece: (from: number, to: number) => T | Promise<T>;
}

/** How far a file is. */
export interface SendProgress {
  /** Bytes that arrived. */
  readonly sent: number;
  /** The line is broken; it is tried again. */
  readonly waiting: boolean;
}

/** Why a file was not received. */
export class SendError extends Error {
  override readonly name = 'SendError';

  constructor(
    readonly code: string,
    message: string,
    readonly hint: string,
  ) {
    super(message);
  }
}

const PIECE_BYTES = 4 * 1024 * 1024;
/** Waited before each try while the line is broken, ms. */
export const AGAIN_MS = [500, 1_000, 2_000, 5_000, 10_000, 20_000];

interface State {
  readonly id: string;
  readonly received: number;
  readonly receipt: Receipt | null;
}

function stateIn(data: unknown): State {
  const { id, received, receipt } = (data ?? {}) as Readonly<Record<string, unknown>>;
  const readable = receipt === null || isReceipt(receipt);
  if (typeof id === 'string' && typeof received === 'number' && Number.isSafeInteger(received) && readable)
    return { id, received, receipt };
  throw new SendError(
    'badAnswer',
    'The recipient answered something else.',
    'Check the address of the server.',
  );
}

function refused({ status, data }: LineAnswer): SendError {
  const { code, message, hint } = (data ?? {}) as Readonly<Record<string, unknown>>;
  const text = (value: unknown, otherwise: string): string => (typeof value === 'string' ? value : otherwise);
  return new SendError(
    text(code, 'refused'),
    text(message, `The recipient answered with ${status}.`),
    text(hint, 'Check the address of the server.'),
  );
}

/** Answers after which the same may be tried again: the line broke, or somebody is busy. */
const mayPass = ({ status, data }: LineAnswer): boolean =>
  status === 429 ||
  status === 503 ||
  status === 502 ||
  status === 408 ||
  status === 400 ||
  (status === 409 && (data as { code?: unknown } | null)?.code === 'busy');

/**
 * Sends a file to a recipient in pieces; where the line breaks, it goes on with what did not arrive.
 * @param proceed told how far it is; `false` gives up: what arrived is taken back
 * @param wait waits so many ms
 * @returns the receipt; `null` when it was given up
 * @throws SendError when it is not taken, or the line stays broken
 */
export async function sendFile<T>(
  line: Line<T>,
  recipientId: string,
  file: Outgoing<T>,
  proceed: (progress: SendProgress) => boolean,
  wait: (ms: number) => Promise<void>,
): Promise<Receipt | null> {
  const base = `/api/recipients/${encodeURIComponent(recipientId)}/deliveries`;
  const { name, bytes, sha256, set } = file;
  let state: State | null = null;
  let failures = 0;
  /** Tries until there is an answer; @returns `null` when it was given up */
  const reach = async (ask: () => Promise<LineAnswer>): Promise<LineAnswer | null> => {
    for (;;) {
      const answer = await ask().catch((error: unknown) => {
        if (error instanceof SendError) throw error;
        return null;
      });
      if (answer && !mayPass(answer)) return answer;
      const ms = AGAIN_MS[failures++];
      if (ms === undefined)
        throw answer
          ? refused(answer)
          : new SendError(
              'noLine',
              'The recipient cannot be reached.',
              'Check that the server runs, then send it again.',
            );
      if (!proceed({ sent: state?.received ?? 0, waiting: true })) return null;
      await wait(ms);
      // What arrived before the line broke is known there only.
      if (state) ask = () => line('GET', `${base}/${state!.id}`, null);
    }
  };
  const drop = async (): Promise<null> => {
    if (state) await line('DELETE', `${base}/${state.id}`, null).catch(() => null);
    return null;
  };
  const opened = await reach(() => line('POST', base, JSON.stringify({ name, bytes, sha256, set })));
  if (!opened) return null;
  if (opened.status !== 201) throw refused(opened);
  state = stateIn(opened.data);
  while (!state.receipt) {
    if (!proceed({ sent: state.received, waiting: false })) return drop();
    const { id, received }: State = state;
    const to = Math.min(bytes, received + PIECE_BYTES);
    const piece = await file.piece(received, to);
    const answer = await reach(() => line('PUT', `${base}/${id}?offset=${received}`, piece));
    if (!answer) return drop();
    if (answer.status === 409) {
      const now = await reach(() => line('GET', `${base}/${id}`, null));
      if (!now) return drop();
      if (now.status !== 200) throw refused(now);
      state = stateIn(now.data);
      continue;
    }
    if (answer.status !== 200) throw refused(answer);
    const after = stateIn(answer.data);
    if (after.received > received) failures = 0;
    state = after;
  }
  return state.receipt;
}
