import type { SoundChoice } from '@/core/audio/soundChoice';
import type { AudioFormat } from '@/core/audio/reader';
import type { SoundTrack } from '@/core/audio/stream';
import type { ExactPeak } from '@/core/loudness/exactTruePeak';
import type { LoudnessFigures } from '@/core/loudness/figures';
import type { TimeRange, WithinRanges } from '@/core/loudness/levelTrack';
import type { SliceMeasurement } from '@/core/loudness/measureReader';
import type { Alignment } from '@/core/loudness/alignment';
import type { LevelDifference } from '@/core/loudness/levelDifference';
import type { LevelTrack, SoundMeasurement } from '@/core/loudness/sound';
import type { SubBlockRange } from '@/core/measuring/dirtyRanges';
import type { ClipMeasurement } from '@/core/measuring/measureClip';
import type { RangeMeasurement } from '@/core/measuring/measureRange';
import type { Contributions } from '@/core/measuring/contributions';
import type { ClipShare } from '@/core/measuring/measureEach';
import type { PartSums } from '@/core/measuring/measureParts';
import type { Moving } from '@/core/measuring/moving';
import type { ProgrammeLevels } from '@/core/measuring/movingFigures';
import type { MovingSolution } from '@/core/measuring/movingSolve';
import type { MovingSums } from '@/core/measuring/movingSums';
import type { GainRoom } from '@/core/programme/clipGain';
import type { ReductionTrack } from '@/core/measuring/reductions';
import type { Id, Project } from '@/core/programme/model';
import type { FoundClick } from '@/core/proposals/clicks';
import type { ClipLimiting } from '@/core/proposals/limitedClip';
import type { LimitedGain } from '@/core/proposals/limitedGain';
import type { ClipSound } from '@/core/signal/clipSound';
import type { Cut } from '@/core/timeline/cut';
import type { FileCheck } from '@/core/check/fileCheck';
import type { CheckDetails } from '@/core/check/findings/details';
import type { Finding } from '@/core/check/findings/finding';
import type { CheckMaterial } from '@/core/check/findings/material';
import type { BroughtFaults } from '@/core/check/findings/programmeMaterial';
import type { Thresholds } from '@/core/check/findings/thresholds';
import type { Target } from '@/core/check/target';
import type { OverTime } from '@/core/check/overTime';
import type { Judged } from '@/core/check/verdict';
import type { Mend as FileMend } from '@/core/proposals/fileGain';
import type { Mend } from '@/core/proposals/fixes/fixFor';
import type { Mends } from '@/core/proposals/fileFix';
import type { MendedAll } from '@/core/proposals/fixes/mendAll';

/** What the page and the workers say to each other: apart from the code on both sides. */

/** Trouble in a form that passes between workers: classes do not. */
export interface Failure {
  readonly code: string;
  readonly message: string;
  readonly hint: string;
}

/** What became of a piece of work. */
export type Outcome<T> = { readonly ok: T } | { readonly failure: Failure } | { readonly cancelled: true };

/** Told the part done, 0 to 1. */
export type OnProgress = (done: number) => void;

/** A worker that can be told to give up a job, by the number it was given with it. */
export interface Cancellable {
  cancel(job: number): void;
}

/** A worker that is given the sound of sources. */
export interface TakesAudio {
  putAudio(audioKey: string, blob: Blob): void;
}

/** A whole file, measured. */
export interface FileMeasurement extends SoundMeasurement {
  readonly format: AudioFormat;
  /** Weighted mean squares of the gating blocks. */
  readonly blocks: Float64Array;
}

/** A whole file, measured to be checked. */
export interface FileToCheck {
  readonly format: AudioFormat;
  readonly material: CheckMaterial;
  /** True peak of every 100 ms by channel, linear. */
  readonly truePeak: readonly Float32Array[];
}

/** A file, checked. */
export interface CheckedSound {
  readonly check: FileCheck;
  /** The gain that mends it for the leading target. */
  readonly mend: FileMend;
  /** The same for each target. */
  readonly mends: Mends;
  readonly details: CheckDetails;
  readonly overTime: OverTime;
  readonly levels: DrawnLevels;
}

/** Loudness over time of a sound, see `LevelTrack`. */
export type Energies = Pick<LevelTrack, 'energy' | 'sampleRate'>;

/** What a first look at a file brings: what was asked for, or how to cut it. */
export type Begun<T> =
  /** It is measured already: compressed, or short. */
  | { readonly kind: 'done'; readonly of: T }
  /** It is long; these are the peak blocks at which to cut it. */
  | { readonly kind: 'cut'; readonly format: AudioFormat; readonly cuts: readonly number[] };

/** Where a file that is measured is stored meanwhile, and which of its bytes. */
export interface StoreAs {
  readonly audioKey: string;
  readonly span: { readonly from: number; readonly to: number };
}

/** A slice of a file, measured; whether its bytes are stored. */
export interface StoredSlice {
  readonly slice: SliceMeasurement;
  readonly stored: boolean;
}

/** A whole file, measured. */
export interface BegunFile {
  readonly measurement: FileMeasurement;
  /** What it was decoded to; `null` where it holds plain samples itself. */
  readonly pcm: Blob | null;
  /** Whether it is stored. */
  readonly stored: boolean;
}

/** A clip to measure, and its source. */
export interface ClipTask {
  readonly blob: Blob;
  readonly sound: ClipSound;
}

/** Measures files and clips. */
export interface MeasureApi extends Cancellable {
  /** The sounds of a file, where there are several to choose from; otherwise none. */
  soundsOf(job: number, blob: Blob): Promise<Outcome<readonly SoundTrack[]>>;
  /**
   * Opens a file; decodes and measures it if it is compressed, measures it if it is short, else says how to cut it.
   * @param audioKey under which it is stored as it is, where it holds plain samples; `null` does not store it
   */
  begin(
    job: number,
    blob: Blob,
    choice: SoundChoice,
    audioKey: string | null,
    onProgress: OnProgress,
  ): Promise<Outcome<Begun<BegunFile>>>;
  /** The same to check it: nothing that is decoded is kept. */
  beginCheck(
    job: number,
    blob: Blob,
    choice: SoundChoice,
    onProgress: OnProgress,
  ): Promise<Outcome<Begun<FileToCheck>>>;
  /** Measures peak blocks [from, to) of a file with plain samples. @param onProgress told the frames done so far */
  slice(
    job: number,
    blob: Blob,
    layoutId: string | null,
    from: number,
    to: number,
    store: StoreAs | null,
    onProgress: (frames: number) => void,
  ): Promise<Outcome<StoredSlice>>;
  /** Joins the slices of a file. */
  join(
    job: number,
    format: AudioFormat,
    parts: readonly SliceMeasurement[],
  ): Promise<Outcome<FileMeasurement>>;
  /** Makes sure that a file whose slices are stored is on the disk. @returns whether it is there whole */
  settleStored(audioKey: string, size: number): Promise<boolean>;
  /** The same to check it. */
  joinCheck(
    job: number,
    format: AudioFormat,
    parts: readonly SliceMeasurement[],
  ): Promise<Outcome<FileToCheck>>;
  /** Holds a file against targets: see `checkFile`. @param exactPeakDbtp where it is known */
  checkFile(
    job: number,
    file: FileToCheck,
    targets: readonly Target[],
    thresholds: Thresholds,
    exactPeakDbtp: number | null,
  ): Promise<Outcome<CheckedSound>>;
  /** See `align`. */
  alignSounds(job: number, a: Energies, b: Energies): Promise<Outcome<readonly Alignment[]>>;
  /** See `levelDifference`. */
  levelDifference(
    job: number,
    a: Energies,
    b: Energies,
    offsetSeconds: number,
  ): Promise<Outcome<LevelDifference>>;
  /** See `alignFrames`. */
  alignFrames(
    job: number,
    a: Float32Array,
    b: Float32Array,
  ): Promise<Outcome<{ readonly offset: number | null }>>;
  measureClip(job: number, task: ClipTask): Promise<Outcome<ClipMeasurement>>;
  /** The exact true peak of a clip by itself, before its gain. */
  exactClipPeak(
    job: number,
    task: ClipTask,
    truePeaks: Float32Array,
  ): Promise<Outcome<{ readonly exact: number | null }>>;
  /** What a clip comes to through a limiter of its own: see `limitClip`. */
  limitClip(job: number, task: ClipTask, asked: ClipLimiting): Promise<Outcome<LimitedGain>>;
  /** The true peak at 16 times the rate. */
  exactPeak(
    job: number,
    blob: Blob,
    truePeaks: Float32Array,
    onProgress: OnProgress,
  ): Promise<Outcome<ExactPeak>>;
  /** Writes several mono sounds as one file of several channels. */
  combine(
    job: number,
    blobs: readonly Blob[],
    layoutId: string,
    onProgress: OnProgress,
  ): Promise<Outcome<{ readonly blob: Blob } & Pick<AudioFormat, 'warnings' | 'integrity'>>>;
  /** SHA-256 of some bytes, in hexadecimal. */
  hash(job: number, blob: Blob, onProgress: OnProgress): Promise<Outcome<string>>;
  /** Reads what an edit system made. @param frameRateId of a list, which does not say it */
  readCut(job: number, blob: Blob, name: string, frameRateId: string): Promise<Outcome<Cut>>;
}

/** Tells voices from other sound. */
export interface VoiceApi extends Cancellable {
  /** How surely somebody speaks, one byte for every 32 ms: see `certaintyByte`. */
  certainty(job: number, blob: Blob, onProgress: OnProgress): Promise<Outcome<Uint8Array>>;
}

/** Renders and measures ranges of one programme. Pieces are short: they are given up before they are handed out. */
export interface RangeApi extends TakesAudio {
  /** The programme that is worked on from now on. */
  take(project: Project): void;
  measureRange(range: SubBlockRange): Promise<Outcome<RangeMeasurement>>;
  /** See `measureMoving`. */
  measureMoving(moving: Moving, range: SubBlockRange): Promise<Outcome<MovingSums>>;
  /** See `measureParts`. */
  measureParts(range: SubBlockRange): Promise<Outcome<PartSums>>;
  /** See `measureEach`. */
  measureEach(range: SubBlockRange): Promise<Outcome<ReadonlyMap<Id, ClipShare>>>;
}

/** What is drawn of a sound over time. */
export interface DrawnLevels extends ProgrammeLevels {
  readonly figures: LoudnessFigures;
  /** Weighted mean squares of the gating blocks. */
  readonly blocks: Float64Array;
  /** Weighted mean squares of the short-term windows, one every 100 ms; the first ends at 3 s. */
  readonly shortTerm: Float64Array;
  readonly lengthSeconds: number;
}

/** What the page has of the programme's measurement. */
export interface ProgrammeSummary extends DrawnLevels {
  /** Sample peak of every peak block over all channels, linear. */
  readonly samplePeaks: Float32Array;
  /** What each limiter takes off, by the id of its clip or track, or `OF_PROGRAMME`. */
  readonly reductions: ReadonlyMap<Id, ReductionTrack>;
  /** Loudness while somebody speaks, by the roles of tracks and the subtitles of sources. */
  readonly dialogue: WithinRanges;
}

/** Which gain on some clips puts the programme at a loudness. */
export interface Solved {
  /** The change nearest to none, dB; `null` when none does. */
  readonly answerDb: number | null;
  readonly nearest: MovingSolution['nearest'];
  /** What the programme measures without those clips. */
  readonly restLufs: number | null;
  /** With the answer, no true peak is higher. */
  readonly peakBoundDbtp: number | null;
}

/** What a programme is checked by, besides its measurement. */
export interface CheckRequest {
  /** Those in force, the leading one first. */
  readonly targets: readonly Target[];
  readonly thresholds: Thresholds;
  /** What its clips bring along from their sources. */
  readonly brought: BroughtFaults;
  /** At the edges of its clips. */
  readonly clicks: readonly FoundClick[];
}

/** A programme, checked. */
export interface CheckedProgramme {
  readonly judged: Judged;
  /** Of the leading target, in order. */
  readonly findings: readonly Finding[];
  readonly details: CheckDetails;
  readonly overTime: OverTime;
}

/** Holds the measurement of the programme up to date. */
export interface ProgrammeApi extends TakesAudio {
  /**
   * Brings the measurement up to date. A newer call supersedes an older one, which then ends as cancelled.
   * @param seen what is looked at, sub-blocks
   */
  measure(
    project: Project,
    seen: SubBlockRange | null,
    onProgress: OnProgress,
  ): Promise<Outcome<ProgrammeSummary>>;
  /** Integrated loudness of another state of the programme, LUFS; what it has in common with the last one asked for stands. */
  summaryOf(project: Project): Promise<Outcome<ProgrammeSummary>>;
  /**
   * The sums that give the programme's figures while something moves; `null` when none of it sounds, or what it goes through is
   * not linear.
   */
  moving(project: Project, moving: Moving): Promise<Outcome<MovingSums | null>>;
  /** Works out what is to be found in the programme as it stands measured; given up when it changes. */
  check(project: Project, request: CheckRequest): Promise<Outcome<CheckedProgramme>>;
  /**
   * The smallest changes that mend what was found in that state, one by one: see `fixFor`. A newer call gives up an older one.
   * @param onFound is told each as it comes, and waited for: none comes after the end
   */
  fixes(
    project: Project,
    request: CheckRequest,
    findings: readonly Finding[],
    onFound: (findingId: string, mend: Mend) => void | Promise<void>,
  ): Promise<Outcome<true>>;
  /**
   * Mends all that breaks a limit: see `mendAll`. A newer call gives up an older one.
   * @param accepted ids of findings that stay as they are
   */
  mendAll(
    project: Project,
    request: CheckRequest,
    accepted: readonly string[],
    onProgress: OnProgress,
  ): Promise<Outcome<Pick<MendedAll, 'fixes' | 'left'>>>;
  /** Gives up what is being worked out to mend findings. */
  stopFixing(): void;
  /**
   * What each part brings to the programme, or to a range of it, once the programme is measured; given up when it changes.
   * @param range seconds; all of it where `null`
   */
  contributions(
    project: Project,
    range: TimeRange | null,
    onProgress: OnProgress,
  ): Promise<Outcome<Contributions>>;
  /** Gives up measuring parts. */
  stopParts(): void;
  /** Which change of these clips' gain puts the programme at a loudness; proved by evaluating it. */
  solve(
    project: Project,
    moving: ReadonlySet<Id>,
    goalLufs: number,
    room: GainRoom,
  ): Promise<Outcome<Solved>>;
}
