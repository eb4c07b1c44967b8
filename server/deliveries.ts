import { randomBytes, randomUUID } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { open } from 'node:fs/promises';
import { join } from 'node:path';
import { number, object, string, ValidationError } from 'yup';
import type { Receipt } from '@/core/deliver/receipt';
import { receiptFor } from '@/core/recipients/receive';
import type { Recipient } from '@/core/recipients/recipient';
import { timeText } from '@/core/text/dates';
import { hashOf } from '@/cli/hashOf';
import { ApiError } from './apiError';
import { count, newFolder, removeFolder } from './folders';
import { runJob } from './jobs';
import { append, mostBytes, sentName, takeText, tooLarge } from './receive';
import { json } from './respond';
import { shared } from './shared';
import { setWith } from './sets';
import { hindered, troubleOf } from './stationTrouble';

/** A delivery that nobody goes on with is forgotten after so long, with what came of it. */
const FORGOTTEN_MS = 60 * 60_000;
/** Open deliveries of a recipient at most; then those give way that nobody has gone on with for so long. */
const MOST_OPEN = 64;
const IDLE_MS = 30_000;
/** A receipt can be asked for again for so long. */
const RECEIPTS_MS = 24 * 60 * 60_000;

/** A file on its way in. */
interface Incoming {
  readonly id: string;
  readonly recipient: Recipient;
  readonly name: string;
  readonly bytes: number;
  readonly sha256: string;
  /** What the files of one delivery have in common; `null` where it is of one file. */
  readonly set: string | null;
  readonly folder: string;
  readonly path: string;
  received: number;
  /** When something came of it last, ms. */
  touched: number;
  /** Somebody is sending, or it is being measured. */
  busy: boolean;
  receipt: Receipt | null;
  timer: ReturnType<typeof setTimeout>;
}

const all = shared('incoming', () => new Map<string, Incoming>());

async function forget({ id, folder }: Incoming): Promise<void> {
  all.delete(id);
  await removeFolder(folder);
}

function restartTimer(incoming: Incoming, ms = FORGOTTEN_MS): void {
  clearTimeout(incoming.timer);
  incoming.timer = setTimeout(() => void forget(incoming), ms);
  incoming.timer.unref();
}

const asked = object({
  name: string().required('name is missing').max(250),
  bytes: number().required('bytes is missing').integer().min(1),
  sha256: string()
    .required('sha256 is missing')
    .matches(/^[0-9a-f]{64}$/, 'sha256 is 64 hexadecimal digits'),
  set: string().max(100).optional(),
});

const MOST_ASKED = 10_000;

/** What stands at a delivery: how much of it came, and the receipt once it is measured. */
const state = ({ id, received, bytes, receipt }: Incoming) => ({ id, received, bytes, receipt });

/** Makes a place among the open deliveries of a recipient: one that nobody goes on with gives way. @throws ApiError where none does */
async function makePlace(recipient: Recipient): Promise<void> {
  const open = [...all.values()].filter(({ receipt, recipient: { id } }) => !receipt && id === recipient.id);
  if (open.length < MOST_OPEN) return;
  const [idle] = open.filter(({ busy }) => !busy).sort((a, b) => a.touched - b.touched);
  if (!idle || Date.now() - idle.touched < IDLE_MS)
    throw new ApiError(429, 'busy', 'Too many deliveries are open.', 'Try again in a minute.');
  clearTimeout(idle.timer);
  await forget(idle);
}

/** Opens a delivery: `{name, bytes, sha256}`. */
export async function openDelivery(request: Request, recipient: Recipient): Promise<Response> {
  const text = await takeText(request, MOST_ASKED);
  let wanted: { name: string; bytes: number; sha256: string; set?: string | undefined };
  try {
    wanted = asked.validateSync(JSON.parse(text), { strict: true });
  } catch (error) {
    const why = error instanceof ValidationError ? error.message : 'the body is no JSON';
    throw new ApiError(
      ...([422, 'badDelivery', `The delivery cannot be opened: ${why}.`] as const),
      'Send {"name": …, "bytes": …, "sha256": …} as JSON.',
    );
  }
  if (wanted.bytes > mostBytes()) throw tooLarge();
  const set = recipient.set ? (wanted.set ?? '') : null;
  if (set === '')
    throw new ApiError(
      ...([422, 'setMissing', `${recipient.name} takes sets of ${recipient.set!.length} files.`] as const),
      'Send "set" as well: any name that the files of one delivery have in common.',
    );
  const trouble = troubleOf(recipient.id);
  if (trouble.full) throw new ApiError(507, 'full', `${recipient.name} has no room.`, 'Try again later.');
  await makePlace(recipient);
  const folder = await newFolder();
  const path = join(folder, randomBytes(8).toString('hex'));
  await (await open(path, 'wx', 0o600)).close();
  const incoming: Incoming = {
    ...{
      id: randomUUID(),
      recipient,
      folder,
      path,
      received: 0,
      touched: Date.now(),
      busy: false,
      receipt: null,
    },
    ...{ name: sentName(wanted.name), bytes: wanted.bytes, sha256: wanted.sha256, set },
    timer: setTimeout(() => undefined, 0),
  };
  restartTimer(incoming);
  all.set(incoming.id, incoming);
  return json(state(incoming), 201, {
    Location: `/api/recipients/${recipient.id}/deliveries/${incoming.id}`,
  });
}

function incomingNamed(recipient: Recipient, id: string): Incoming {
  const incoming = all.get(id);
  if (incoming?.recipient.id === recipient.id) return incoming;
  throw new ApiError(404, 'noSuchDelivery', 'There is no such delivery.', 'Open it again from its start.');
}

export const deliveryState = (recipient: Recipient, id: string): Response =>
  json(state(incomingNamed(recipient, id)));

/** Gives a delivery up: what came of it is gone. */
export async function dropDelivery(recipient: Recipient, id: string): Promise<Response> {
  await forget(incomingNamed(recipient, id));
  return json({ id });
}

/**
 * Takes a piece of a delivery: `PUT …?offset=N`. What came before the line broke stays; the next piece begins there. With the last
 * byte the file is measured, and the receipt is the answer.
 */
export async function takePiece(request: Request, recipient: Recipient, id: string): Promise<Response> {
  const incoming = incomingNamed(recipient, id);
  if (incoming.receipt) return json(state(incoming));
  const offset = Number(new URL(request.url).searchParams.get('offset') ?? NaN);
  if (incoming.busy)
    throw new ApiError(409, 'busy', 'Another piece of it is under way.', 'Wait, then ask how much came.');
  if (offset !== incoming.received)
    throw new ApiError(
      ...([409, 'offset', `${incoming.received} bytes came; the next piece begins there.`] as const),
      `Send it with ?offset=${incoming.received}`,
    );
  incoming.busy = true;
  try {
    const handle = await open(incoming.path, 'r+');
    try {
      const hinder = hindered(recipient.id, incoming.received);
      await append(request, handle, incoming.received, incoming.bytes, async (bytes) => {
        count(incoming.folder, bytes.length);
        incoming.received += bytes.length;
        incoming.touched = Date.now();
        await hinder(bytes.length);
      });
    } finally {
      await handle.close();
      incoming.touched = Date.now();
      restartTimer(incoming);
    }
    if (incoming.received === incoming.bytes) await answer(incoming, request.signal);
    return json(state(incoming));
  } finally {
    incoming.busy = false;
  }
}

/** A receipt that tells how far the set is that its file belongs to. */
function withSet({ recipient, set, name }: Incoming, receipt: Receipt): Receipt {
  return set === null ? receipt : { ...receipt, set: setWith(recipient, set, name, receipt.accepted) };
}

/** Measures what arrived, and writes the receipt; the file is gone then. */
async function answer(incoming: Incoming, signal: AbortSignal): Promise<void> {
  const { recipient, path, name, sha256: sentSha256 } = incoming;
  const { sha256 } = await hashOf(createReadStream(path));
  const number = `${recipient.id.toUpperCase().slice(0, 4)}-${randomBytes(4).toString('hex').toUpperCase()}`;
  const at = timeText(new Date());
  const { lateSeconds } = troubleOf(recipient.id);
  if (lateSeconds > 0) await new Promise((resolve) => setTimeout(resolve, lateSeconds * 1000));
  try {
    const { judged, stated } = await runJob(
      { kind: 'receive', path, name, target: recipient.target },
      signal,
    );
    const receipt = receiptFor(recipient, { name, sentSha256, sha256, judged, stated }, number, at);
    incoming.receipt = withSet(incoming, receipt);
  } catch (error) {
    if (!(error instanceof ApiError) || error.status !== 422) throw error;
    const unread = { requirement: 'Can be read', asked: 'a sound file', found: error.message, meets: false };
    incoming.receipt = withSet(incoming, {
      number,
      recipient: recipient.name,
      accepted: false,
      at,
      sha256,
      requirements: [unread],
    });
  }
  await removeFolder(incoming.folder);
  restartTimer(incoming, RECEIPTS_MS);
}
