/** Progress is told at most so often, ms: whoever shows it is drawn anew each time. */
const SHOWN_EVERY_MS = 100;

/**
 * Asked at every step of long work, whether it is time to tell how far it is.
 * @param ms how long it stays silent, from the start and from each time it was told
 */
export function nowAndThen(ms = SHOWN_EVERY_MS): () => boolean {
  let told = performance.now();
  return () => {
    const now = performance.now();
    if (now - told < ms) return false;
    told = now;
    return true;
  };
}
