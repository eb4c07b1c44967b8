import { curveOwnedBy, sameOwner, type CurveOwner } from '@/core/programme/edits/points';
import type { FrameRange } from '@/core/programme/sections';
import type { History } from '@/core/programme/history';
import type { Id, Project } from '@/core/programme/model';
import type { SoundTrack } from '@/core/audio/stream';
import type { Judged } from '@/core/check/verdict';
import type { Contributions } from '@/core/measuring/contributions';
import type { MovedFigures } from '@/core/measuring/movingFigures';
import type { SoundMeasurement } from '@/core/loudness/sound';
import type { Cut } from '@/core/timeline/cut';
import type { ClipMeasurement } from '@/core/measuring/measureClip';
import type { Failure, ProgrammeSummary } from '@/engine/protocol';
import type { ImportPhase } from './importFile';
import { NOTHING_ABSENT, type Absent } from './sounds';

/** A file on its way in, or one that could not come in. */
export interface ImportJob {
  readonly id: string;
  readonly name: string;
  readonly bytes: number;
  readonly phase: ImportPhase | 'choosing' | 'differs' | 'failed';
  /** The source it is to stand for, and in what it differs from that; asked while `differs`. */
  readonly differs: { readonly of: string; readonly differences: readonly string[] } | null;
  /** The sounds of the file among which to choose; empty when there is but one. */
  readonly sounds: readonly SoundTrack[];
  /** 0 to 1 within the phase. */
  readonly done: number;
  readonly failure: Failure | null;
}

/** A cut that was opened and waits for its media and to be placed. */
export interface PendingCut {
  readonly id: string;
  readonly name: string;
  readonly file: Blob;
  /** Of a list, which does not say it. */
  readonly frameRateId: string;
  /** `null` while it is being read. */
  readonly cut: Cut | null;
  /** Sources chosen by hand for media that were not found for sure, by `mediaKey`. */
  readonly links: Readonly<Record<string, Id>>;
  readonly failure: Failure | null;
}

export type SaveState = 'saved' | 'saving' | Failure;

/** All that one open project shows. */
/** Points of a gain curve, by their places: frames of the source for a clip, else of the programme. */
export interface SelectedPoints {
  readonly owner: CurveOwner;
  readonly places: ReadonlySet<number>;
}

export interface SessionState {
  readonly history: History;
  /** What of it could not be read when it was opened, a full sentence; `null` when nothing. */
  readonly lost: string | null;
  /** The programme while something is being dragged; `null` otherwise. */
  readonly preview: Project | null;
  readonly selection: ReadonlySet<Id>;
  /** Points of one gain curve that are selected. */
  readonly points: SelectedPoints | null;
  readonly imports: readonly ImportJob[];
  readonly cuts: readonly PendingCut[];
  /** By source key, see `sourceKey`. */
  readonly sourceMeasurements: ReadonlyMap<string, SoundMeasurement>;
  /** Exact true peaks of sources by their keys, dBTP, where one was wanted; `null` for silence, or where none could be found. */
  readonly exactSourcePeaks: ReadonlyMap<string, number | null>;
  /** By clip key. */
  readonly clipMeasurements: ReadonlyMap<string, ClipMeasurement>;
  readonly programme: ProgrammeSummary | null;
  /** Where a proposal would put clips, clip gain in dB; empty while there is none. */
  readonly ghosts: ReadonlyMap<Id, number>;
  /** What the programme measures with what is just being dragged; `null` when nothing moves. */
  readonly moved: MovedFigures | null;
  /** How far the programme's measurement is (0 to 1); `null` when it is up to date. */
  readonly measuring: number | null;
  readonly measureFailure: Failure | null;
  /** What each part brings to the programme's loudness; `null` until it is asked for, and after every change. */
  readonly shares: Contributions | null;
  /** How far the shares are (0 to 1); `null` when they are not being worked out. */
  readonly sharing: number | null;
  /** Sound that is not there. */
  readonly absent: Absent;
  readonly save: SaveState;
  readonly playing: boolean;
  /** Where listening begins, programme frames. */
  readonly playhead: number;
  readonly soloed: ReadonlySet<Id>;
  /** A range that was chosen, programme frames. */
  readonly range: FrameRange | null;
  /** Listening repeats the chosen range. */
  readonly looping: boolean;
}

/** Of selected points, those that a project has; `null` when none is left. */
export function pointsThere(project: Project, points: SelectedPoints | null): SelectedPoints | null {
  if (!points) return null;
  const curve = curveOwnedBy(project, points.owner);
  const there = curve.filter(({ at }) => points.places.has(at)).map(({ at }) => at);
  if (there.length === points.places.size) return points;
  return there.length > 0 ? { owner: points.owner, places: new Set(there) } : null;
}

/** Those of something's points that are selected; `null` when none is. */
export const pointsOf = (points: SelectedPoints | null, owner: CurveOwner): ReadonlySet<number> | null =>
  points && sameOwner(points.owner, owner) ? points.places : null;

/** The programme as it is to be shown: with what is just being dragged. */
export const shownProject = (state: SessionState): Project => state.preview ?? state.history.project;

/** What the programme can be judged by at any time: what takes more looking for is told by its check. */
export const judgedSummary = ({ figures, dialogue, lengthSeconds }: ProgrammeSummary): Judged => ({
  ...figures,
  spoken: {
    lufs: dialogue.integratedLufs,
    sharePercent: lengthSeconds > 0 ? (100 * dialogue.seconds) / lengthSeconds : 0,
    overRestLu: null,
  },
});

/** The programme's figures as they are to be shown; while something moves its true peak is a bound. */
export function shownFigures({ programme, moved }: Pick<SessionState, 'programme' | 'moved'>): {
  readonly figures: Judged | null;
  readonly peakIsBound: boolean;
} {
  if (!programme || !moved) return { figures: programme && judgedSummary(programme), peakIsBound: false };
  const { truePeakBoundDbtp, integratedLufs, relativeGateLufs } = moved;
  const { maxMomentaryLufs, maxShortTermLufs, loudnessRangeLu } = moved;
  const loudness = {
    integratedLufs,
    relativeGateLufs,
    maxMomentaryLufs,
    maxShortTermLufs,
    loudnessRangeLu,
  };
  return {
    figures: { ...programme.figures, ...loudness, truePeakDbtp: truePeakBoundDbtp },
    peakIsBound: true,
  };
}

/** What a session begins with. @param lost what of the project could not be read, a full sentence; `null` when nothing */
export const newState = (history: History, lost: string | null): SessionState => ({
  history,
  lost,
  preview: null,
  selection: new Set(),
  points: null,
  imports: [],
  cuts: [],
  sourceMeasurements: new Map(),
  exactSourcePeaks: new Map(),
  clipMeasurements: new Map(),
  programme: null,
  ghosts: new Map(),
  moved: null,
  shares: null,
  sharing: null,
  measuring: 0,
  measureFailure: null,
  absent: NOTHING_ABSENT,
  save: 'saved',
  playing: false,
  playhead: 0,
  soloed: new Set(),
  range: null,
  looping: false,
});
