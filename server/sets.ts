import type { SetPartState } from '@/core/deliver/receipt';
import { partOf } from '@/core/recipients/receive';
import type { Recipient } from '@/core/recipients/recipient';
import { shared } from './shared';

/** Nothing new has come of a set for so long: it is forgotten. */
const FORGOTTEN_MS = 24 * 60 * 60_000;
/** More are not remembered; the oldest goes. */
const MOST_SETS = 1_000;

interface SetState {
  readonly parts: Map<string, SetPartState>;
  changed: number;
}

const all = shared('sets', () => new Map<string, SetState>());

/**
 * Notes what came of a file of a set. One that is sent again takes the place of the one before.
 * @returns how far every part of it is
 */
export function setWith(
  { id, set }: Recipient,
  named: string,
  fileName: string,
  accepted: boolean,
): { part: string; state: SetPartState }[] {
  const now = Date.now();
  for (const [key, { changed }] of all) if (now - changed > FORGOTTEN_MS) all.delete(key);
  const key = `${id}/${named}`;
  const state = all.get(key) ?? { parts: new Map(), changed: now };
  const part = partOf(set ?? [], fileName);
  if (part) state.parts.set(part.name, accepted ? 'accepted' : 'notAccepted');
  state.changed = now;
  // The one that changed last stands last.
  all.delete(key);
  all.set(key, state);
  if (all.size > MOST_SETS) all.delete(all.keys().next().value!);
  return (set ?? []).map(({ name }) => ({ part: name, state: state.parts.get(name) ?? 'missing' }));
}
