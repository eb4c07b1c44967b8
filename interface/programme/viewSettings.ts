import { boolean, number, object, string } from 'yup';
import { useStore } from 'zustand';
import { createStore } from 'zustand/vanilla';
import type { FadeShape, Id } from '@/core/programme/model';
import { FADE_SHAPES } from '@/core/programme/projectSchema';
import { RAMP_SECONDS } from '@/core/programme/sections';
import { getPreference, putPreference } from '@/storage/preferences';
import { recordOf } from '../ui/recordOf';

/** The faces of the programme: tracks of clips, a table of them, and each a bar around the horizon. */
export const FACES = ['lanes', 'ledger', 'ladder'] as const;
export type Face = (typeof FACES)[number];

/** How the lanes are drawn. */
export interface ViewSettings {
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
  /** Width of the side sheet, and of the track heads, CSS pixels. */
  readonly sideWidth: number;
  readonly headWidth: number;
  /** Heights of the bottom sheets that were set by hand, CSS pixels. */
  readonly sheetHeights: Readonly<Partial<Record<Sheet, number>>>;
  /** Heights of single lanes relative to what they take by themselves, by the track's id. */
  readonly laneHeights: Readonly<Record<Id, number>>;
  /** How long the gain ramps into and out of a part that is changed, seconds. */
  readonly rampSeconds: number;
  /** The fade that clips without one are given, seconds, and its shape. */
  readonly fadeSeconds: number;
  readonly fadeShape: Exclude<FadeShape, number>;
  /** The window with the picture at the playhead: where it stands, CSS pixels. */
  readonly picture: {
    readonly shown: boolean;
    readonly x: number;
    readonly y: number;
    readonly width: (typeof PICTURE_WIDTHS)[number];
  };
}

/** Widths of the window with the picture, CSS pixels. */
export const PICTURE_WIDTHS = [320, 480, 240] as const;

/** What can be opened under a stage. */
export type Sheet =
  'clips' | 'programme' | 'plan' | 'parts' | 'duck' | 'ride' | 'clicks' | 'even' | 'sources';

/** Heights of bottom sheets as they come, CSS pixels. */
export const SHEET_HEIGHTS: Readonly<Record<Sheet, number>> = {
  ...{
    clips: 330,
    programme: 180,
    plan: 350,
    parts: 290,
    duck: 330,
    ride: 250,
    clicks: 290,
    even: 290,
    sources: 330,
  },
};
/** Bounds of what is set by hand, CSS pixels; of lane heights relative to what they take by themselves. */
export const USUAL_HEAD_WIDTH = 204;
export const HEAD_WIDTHS = [150, 420] as const;
export const LANE_FACTORS = [0.3, 5] as const;
const SIDE_WIDTHS = [220, 720] as const;

export const METER_DEPTHS = [12, 30, 60] as const;
/** Ramps that can be asked for, seconds. */
export const SHORTEST_RAMP = 0.001;
export const LONGEST_RAMP = 5;
/** The longest default fade, seconds. */
export const LONGEST_FADE = 10;

const USUAL: ViewSettings = {
  ...{ face: 'lanes', big: false, height: 1, mirrored: false, loudness: false, meterDepth: 30 },
  ...{ sideWidth: 304, headWidth: USUAL_HEAD_WIDTH, sheetHeights: {}, laneHeights: {} },
  rampSeconds: RAMP_SECONDS,
  ...{ fadeSeconds: 0.01, fadeShape: 'equalPower' },
  picture: { shown: false, x: 560, y: 300, width: PICTURE_WIDTHS[0] },
};

const stored = object({
  face: string().required().oneOf(FACES),
  big: boolean().required(),
  height: number().required().min(0.2).max(6),
  mirrored: boolean().required(),
  loudness: boolean().required(),
  meterDepth: number().required().oneOf(METER_DEPTHS),
  sideWidth: number().optional().min(SIDE_WIDTHS[0]).max(SIDE_WIDTHS[1]),
  headWidth: number().optional().min(HEAD_WIDTHS[0]).max(HEAD_WIDTHS[1]),
  sheetHeights: recordOf(number().required().min(80).max(2000)),
  laneHeights: recordOf(number().required().min(LANE_FACTORS[0]).max(LANE_FACTORS[1])),
  rampSeconds: number().optional().min(SHORTEST_RAMP).max(LONGEST_RAMP),
  fadeSeconds: number().optional().min(0.001).max(LONGEST_FADE),
  fadeShape: string()
    .optional()
    .oneOf([...FADE_SHAPES] as string[]),
  picture: object({
    shown: boolean().required(),
    x: number().required().min(0).max(20_000),
    y: number().required().min(0).max(20_000),
    width: number().required().oneOf(PICTURE_WIDTHS),
  })
    .optional()
    .default(undefined),
});

const store = createStore<ViewSettings>(() => USUAL);
let loaded = false;

/** Takes over what was kept, once. */
export async function loadView(): Promise<void> {
  if (loaded) return;
  loaded = true;
  // What cannot be read, or no longer fits, is no loss: everything starts as it was designed.
  const kept: unknown = await getPreference('look').catch(() => null);
  if (stored.isValidSync(kept, { strict: true })) store.setState({ ...USUAL, ...kept } as ViewSettings);
}

export function changeView(change: Partial<ViewSettings>): void {
  store.setState(change);
  void putPreference('look', store.getState()).catch(() => undefined);
}

export const viewNow = (): ViewSettings => store.getState();

export const useViewSettings = (): ViewSettings => useStore(store);
