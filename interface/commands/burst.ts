/** Key presses closer together than this on the same clips are one step of the history. */
const BURST_MS = 1200;
let burst = { key: '', at: 0, n: 0 };

/** The word by which steps of a key that is held down become one. */
export function burstKey(what: string): string {
  const now = Date.now();
  const n = burst.key === what && now - burst.at < BURST_MS ? burst.n : burst.n + 1;
  burst = { key: what, at: now, n };
  return `${what} ${n}`;
}
