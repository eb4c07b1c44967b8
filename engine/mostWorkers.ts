/** How many workers of a kind there are at most. One core stays free for the page. */
export const mostWorkers = (): number => Math.min(8, Math.max(1, navigator.hardwareConcurrency - 1));
