import { programmeLayout } from '@/core/audio/layout';
import { newMixer, type Mixer } from '@/core/kernels/mixer';
import { clipEnd, type Clip, type Id, type Project, type Track } from '@/core/programme/model';
import { heardWithin, type Heard } from './audible';
import { hasLimiters } from './asRecorded';
import { clipParts } from './clipPiece';
import { PROGRAMME_PATH, TRACK_PATH } from './path';
import { addPiece, finishedSamples, pieceOf, Room, type Piece } from './piece';
import type { OpenSource } from './source';
import {
  applyPath,
  applyPathTogether,
  isLinear,
  joined,
  reachOf,
  type Reduction,
  type Span,
} from './station';
import { trackSound, type TrackSound } from './trackSound';

/** Whose limiter it is: a clip's or a track's id, or the programme. */
export const OF_PROGRAMME = 'programme';

/** Is told what the limiters of a mix do, by frames of the programme. */
type LimitersTold = (owner: Id, reduction: Reduction) => void;

/** Which clips a tap of the mix hears. */
export type Tap = (clip: Clip) => boolean;

/** How the taps of a mix are rendered. */
export interface TapOptions {
  /** What the limiters do to what the first tap hears. */
  readonly told?: LimitersTold | undefined;
  /**
   * Which taps are stems: limiters of the programme take off them what they take off the whole mix, so that stems of all clips
   * add up to it. None where left out.
   */
  readonly stems?: readonly boolean[];
}

/** The whole programme. */
export const EVERYTHING: Tap = () => true;

/** A span of the mix, frames of the programme; it may begin before it. */
interface Window {
  readonly start: number;
  readonly count: number;
}

/** The sum of what one tap hears, and of each of its tracks that has to be summed before its stations. */
interface Sum {
  readonly mixer: Mixer;
  readonly tracks: Map<Id, Mixer>;
}

/** A track, the window over which its clips are summed, and whether that sum has to be made before its stations. */
interface Bus {
  readonly sound: TrackSound;
  readonly window: Window;
  readonly apart: boolean;
}

function busOf(sound: TrackSound, { start, count }: Window): Bus {
  const apart = !isLinear(TRACK_PATH, sound);
  const { before, after } = reachOf(TRACK_PATH, sound);
  return { sound, apart, window: { start: start - before, count: count + before + after } };
}

/**
 * How much is best rendered at a time, seconds: as `usual`, or more where stations need much before every piece, so that
 * most of what is rendered is wanted.
 */
export function pieceSeconds(project: Project, usual: number): number {
  return hasLimiters(project) ? Math.max(usual, 10) : usual;
}

const NOWHERE: Span = { from: 0, to: 0 };

/** All that any of the tracks needs. */
const widest = (buses: Iterable<Bus>): Span => {
  let span: Span | null = null;
  for (const { window } of buses)
    span = joined(span, { from: window.start, to: window.start + window.count });
  return span ?? NOWHERE;
};

/** A window of the mix with what the programme's stations need around it, and what each track is summed over for it. */
function around(project: Project, { start, count }: Window) {
  const { before, after } = reachOf(PROGRAMME_PATH, project);
  const whole: Window = { start: start - before, count: count + before + after };
  const buses = new Map(project.tracks.map((track) => [track.id, busOf(trackSound(project, track), whole)]));
  return { whole, buses };
}

/** The frames in which clips are heard that a span of the mix is made of. */
export const spanNeeded = (project: Project, { from, to }: Span): Span =>
  widest(around(project, { start: from, count: to - from }).buses.values());

/** Adds one clip's sound to the sums that hear it, or to those of its track in them. */
async function addClip(
  { clip, source, sound }: Heard,
  openSource: OpenSource,
  { sound: bus, window, apart }: Bus,
  whole: Window,
  hearing: readonly Sum[],
  room: Room,
  told?: LimitersTold,
): Promise<void> {
  const from = Math.max(window.start, clip.start);
  const to = Math.min(window.start + window.count, clipEnd(clip));
  if (!source || !sound || from >= to) return;
  const reader = await openSource(source);
  const parts = await clipParts(
    reader,
    sound,
    from - clip.start,
    to - clip.start,
    room,
    told && ((reduction) => told(clip.id, { ...reduction, from: reduction.from + clip.start })),
  );
  for (const { at, piece } of parts) {
    const frame = clip.start + at;
    const levelled = apart ? piece : applyPath(TRACK_PATH, piece, bus, frame);
    for (const sum of hearing)
      addPiece(
        apart ? trackSum(sum, bus.track, window) : sum.mixer,
        levelled,
        frame - (apart ? window : whole).start,
      );
  }
}

/** The sum of one track. */
function trackSum({ mixer, tracks }: Sum, { id }: Track, { count }: Window): Mixer {
  const bus = tracks.get(id) ?? newMixer(mixer.channels, count);
  tracks.set(id, bus);
  return bus;
}

/**
 * Renders frames [start, start + count) as taps of one mix hear them: clips, summed to their tracks, summed to the
 * programme, each through its stations. A tap is what the programme would be if only its clips were there, unless it is a
 * stem. Each clip is read once, however many hear it. Where a track's stations are linear its clips go straight into the sum of the programme:
 * the same sound, without a sum in between.
 *
 * Any range fits its neighbours to the bit.
 * @returns per tap one array of `count` samples per channel of the programme's layout
 */
export async function renderTaps(
  project: Project,
  openSource: OpenSource,
  start: number,
  count: number,
  taps: readonly Tap[],
  { told, stems = [] }: TapOptions = {},
): Promise<Float32Array[][]> {
  const channels = programmeLayout(project.layoutId).labels.length;
  const { whole: window, buses } = around(project, { start, count });
  // Stems go by what the limiter does to everything, which is summed along with them where no tap hears it.
  const following = !isLinear(PROGRAMME_PATH, project) ? [...taps.keys()].filter((i) => stems[i]) : [];
  const whole = taps.findIndex((tap, i) => tap === EVERYTHING && !stems[i]);
  const hearers = following.length > 0 && whole < 0 ? [...taps, EVERYTHING] : taps;
  const sums = hearers.map((): Sum => ({ mixer: newMixer(channels, window.count), tracks: new Map() }));
  const room = new Room();
  for (const heard of heardWithin(project, widest(buses.values()))) {
    const hearing = sums.filter((_, i) => hearers[i]!(heard.clip));
    if (hearing.length > 0)
      await addClip(heard, openSource, buses.get(heard.track.id)!, window, hearing, room, told);
  }
  const tell = (owner: Id) => (told ? (reduction: Reduction) => told(owner, reduction) : undefined);
  const mixed = sums.map(({ mixer, tracks }, i) => {
    // In the order of the tracks, not in that of their first clips.
    for (const [id, { sound, window }] of buses) {
      const bus = tracks.get(id);
      if (!bus) continue;
      addPiece(
        mixer,
        applyPath(TRACK_PATH, pieceOf(bus.finish()), sound, window.start, i === 0 ? tell(id) : undefined),
        0,
      );
    }
    return pieceOf(mixer.finish());
  });
  const finished = new Map<number, Piece>();
  if (following.length > 0) {
    const together = [whole < 0 ? taps.length : whole, ...following];
    const toldTo = together.includes(0) ? tell(OF_PROGRAMME) : undefined;
    applyPathTogether(
      PROGRAMME_PATH,
      together.map((i) => mixed[i]!),
      project,
      window.start,
      toldTo,
    ).forEach((piece, k) => finished.set(together[k]!, piece));
  }
  return taps.map((_, i) => {
    const toldTo = i === 0 ? tell(OF_PROGRAMME) : undefined;
    const piece = finished.get(i) ?? applyPath(PROGRAMME_PATH, mixed[i]!, project, window.start, toldTo);
    return [...finishedSamples(piece)];
  });
}

/** Renders frames [start, start + count) of the programme, or of what a tap of it hears: see {@link renderTaps}. */
export async function renderRange(
  project: Project,
  openSource: OpenSource,
  start: number,
  count: number,
  tap: Tap = EVERYTHING,
): Promise<Float32Array[]> {
  const [sound] = await renderTaps(project, openSource, start, count, [tap]);
  return sound!;
}
