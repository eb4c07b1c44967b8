import { useStore } from 'zustand';
import { createStore } from 'zustand/vanilla';

/** The highest peaks met since they were cleared, linear. */
export interface HeldPeaks {
  readonly truePeak: number;
  readonly samplePeak: number;
}

const NONE: HeldPeaks = { truePeak: 0, samplePeak: 0 };

/** By project and track; of the whole programme by project and {@link WHOLE}. */
const store = createStore<Readonly<Record<string, HeldPeaks>>>(() => ({}));

export const WHOLE = 'whole';

/** @param peaks linear; `null` where they are not known */
export function holdPeaks(
  key: string,
  peaks: { readonly truePeak: number | null; readonly samplePeak?: number | null },
): void {
  const held = store.getState()[key] ?? NONE;
  const truePeak = Math.max(held.truePeak, peaks.truePeak ?? 0);
  const samplePeak = Math.max(held.samplePeak, peaks.samplePeak ?? 0);
  if (truePeak > held.truePeak || samplePeak > held.samplePeak)
    store.setState({ [key]: { truePeak, samplePeak } });
}

/** Forgets those of one project. */
export function clearHolds(projectId: string): void {
  const left = Object.entries(store.getState()).filter(([key]) => !key.startsWith(`${projectId} `));
  store.setState(Object.fromEntries(left), true);
}

export const usePeakHold = (key: string): HeldPeaks => useStore(store, (all) => all[key] ?? NONE);
