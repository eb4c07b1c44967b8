import { boolean, number, object, string } from 'yup';
import { useStore } from 'zustand';
import { createStore } from 'zustand/vanilla';
import { RAMP_SECONDS } from '@/core/programme/sections';
import { getPreference, putPreference } from '@/storage/preferences';

/** The faces of the programme: tracks of clips, a table of them, and each a bar around the horizon. */
export const FACES = ['lanes', 'ledger', 'ladder'] as const;
export type Face = (typeof FACES)[number];

/** How the lanes are drawn. */
export interface Look {
  readonly face: Face;
  /** Nothing but the lanes. */
  readonly big: boolean;
  /** Height of the lanes relative to what fits. */
  readonly height: number;
  /** Waveforms around a middle line rather than from the floor. */
  readonly mirrored: boolean;
  /** Momentary loudness drawn over the waveform. */
  readonly loudness: boolean;
  /** LU under the horizon that meters reach down to. */
  readonly meterDepth: number;
  /** How long the gain ramps into and out of a part that is changed, seconds. */
  readonly rampSeconds: number;
}

export const METER_DEPTHS = [12, 30, 60] as const;
/** Ramps that can be asked for, seconds. */
export const SHORTEST_RAMP = 0.001;
export const LONGEST_RAMP = 5;

const LOOK: Look = {
  ...{ face: 'lanes', big: false, height: 1, mirrored: false, loudness: false, meterDepth: 30 },
  rampSeconds: RAMP_SECONDS,
};

const stored = object({
  face: string().required().oneOf(FACES),
  big: boolean().required(),
  height: number().required().min(0.2).max(6),
  mirrored: boolean().required(),
  loudness: boolean().required(),
  meterDepth: number().required().oneOf(METER_DEPTHS),
  rampSeconds: number().optional().min(SHORTEST_RAMP).max(LONGEST_RAMP),
});

const store = createStore<Look>(() => LOOK);
let loaded = false;

/** Takes over what was kept, once. */
export async function loadLook(): Promise<void> {
  if (loaded) return;
  loaded = true;
  // What cannot be read, or no longer fits, is no loss: everything starts as it was designed.
  const kept: unknown = await getPreference('look').catch(() => null);
  if (stored.isValidSync(kept, { strict: true })) store.setState({ ...LOOK, ...kept } as Look);
}

export function changeLook(change: Partial<Look>): void {
  store.setState(change);
  void putPreference('look', store.getState()).catch(() => undefined);
}

export const lookNow = (): Look => store.getState();

export const useLook = (): Look => useStore(store);
