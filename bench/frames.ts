/** A frame at 60 a second, ms. */
export const FRAME = 1000 / 60;

/** Runs one step on every frame for two seconds and gives what the main thread took for each, and how many came. */
export const RUN = `
  const [step, done] = [new Function('n', arguments[0]), arguments[arguments.length - 1]];
  const took = [];
  const start = performance.now();
  let n = 0;
  const channel = new MessageChannel();
  let began = 0;
  channel.port1.onmessage = () => took.push(performance.now() - began);
  const frame = () => {
    began = performance.now();
    if (began - start > 2000) return done({ took, frames: n, seconds: (began - start) / 1000 });
    step(n++);
    channel.port2.postMessage(0);
    requestAnimationFrame(frame);
  };
  requestAnimationFrame(frame);
`;

export interface Ran {
  readonly took: readonly number[];
  readonly frames: number;
  readonly seconds: number;
}

/** How many frames came, and what the page took for each, in words. */
export function tookWords(what: string, { took, frames, seconds }: Ran): string {
  const sorted = [...took].sort((a, b) => a - b);
  const at = (part: number): number => sorted[Math.floor((sorted.length - 1) * part)]!;
  return `  ${what.padEnd(34)} ${(frames / seconds).toFixed(0).padStart(3)} frames a second; of a frame at 60 a second the page takes ${(at(0.5) / FRAME).toFixed(2)} (median), ${(at(0.95) / FRAME).toFixed(2)} (19 of 20), ${(at(1) / FRAME).toFixed(2)} (worst)`;
}
