import { useStore } from 'zustand';
import { createStore } from 'zustand/vanilla';

/** The highest true peaks met since they were cleared, linear, by track id; the whole programme by {@link WHOLE}. */
const store = createStore<{ readonly peaks: Readonly<Record<string, number>> }>(() => ({ peaks: {} }));

export const WHOLE = 'whole';

export function holdPeak(key: string, peak: number): void {
  const { peaks } = store.getState();
  if (peak > (peaks[key] ?? 0)) store.setState({ peaks: { ...peaks, [key]: peak } });
}

export function clearHolds(): void {
  store.setState({ peaks: {} });
}

export const usePeakHold = (key: string): number => useStore(store, ({ peaks }) => peaks[key] ?? 0);
