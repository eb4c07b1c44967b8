import { expose } from 'comlink';
import { measurePace } from '@/core/parallel/watchdog';

const api = {
  /** The share of a core that a busy thread gets at the moment: see {@link measurePace}. */
  pace: (): number => measurePace(() => performance.now()),
};

export type PaceApi = typeof api;

expose(api);
