import type { IntegrityFault } from '@/core/audio/integrity';
import { clampGain, MAX_CLIP_GAIN_DB, MAX_TRIM_DB, MIN_CLIP_GAIN_DB } from '@/core/programme/gainField';
import { balanceCurveOf } from '@/core/programme/balanceCurve';
import { curveOf, heldDb, SILENT_DB } from '@/core/programme/curve';
import { curveWords } from '@/core/programme/curveReason';
import { sourceLength } from '@/core/programme/edits/clips';
import {
  AS_RECORDED,
  PLAIN_CLIP,
  PLAIN_TRACK,
  type Clip,
  type CurvePoint,
  type Id,
  type Marker,
  type Project,
  type Source,
  type Track,
} from '@/core/programme/model';
import { figure } from '@/core/text/figures';
import { mediaKey, type Cut, type CutClip, type CutPoint, type CutSound } from './cut';
import { shortestNames } from './matchMedia';

/** A medium without a source. */
export interface MissingMedia {
  /** See `mediaKey`. */
  readonly key: string;
  /** For people: its name, with as much of its folders as it takes to tell it from others. */
  readonly name: string;
}

/** A cut as a programme, and what was not found or did not fit, as full sentences. */
export interface PlacedCut {
  readonly project: Project;
  /** Media that no source was found for. */
  readonly missing: readonly MissingMedia[];
  /** What differs from the cut; what of that concerns the sound is in the project's `cutFaults` too. */
  readonly warnings: readonly string[];
}

/** Where in its media a clip begins, seconds. Timecode counts from where the media's own begins, if it says so. */
function sourceSeconds(clip: CutClip, { timeReference, sampleRate }: Source): number {
  if (!clip.sourceIsTimecode || timeReference === null) return clip.sourceStart;
  const from = clip.sourceStart - timeReference / sampleRate;
  return from >= -1e-6 ? Math.max(0, from) : clip.sourceStart;
}

/**
 * What of a cut's gain a clip can have; the rest is its trim, as far as that goes. What is lost is said.
 * @returns dB each
 */
function heldGain(clip: CutClip, warn: (text: string) => void): { gainDb: number; restDb: number } {
  const gainDb = clampGain(clip.gainDb);
  const rest = clip.gainDb - gainDb;
  const restDb = Math.min(MAX_TRIM_DB, Math.max(-MAX_TRIM_DB, rest));
  if (rest !== 0)
    warn(
      `“${clip.name}” has a gain of ${figure(clip.gainDb)} dB in the cut, and a clip goes from ${figure(MIN_CLIP_GAIN_DB, 0)} to ${figure(MAX_CLIP_GAIN_DB, 0)} dB: ${
        rest === restDb
          ? 'the rest became its trim'
          : `it sounds with ${figure(gainDb + restDb)} dB, the most there is`
      }.`,
    );
  const held = clip.curve.filter(({ db }) => heldDb(db) !== db && db > SILENT_DB).length;
  if (held > 0)
    warn(
      `“${clip.name}”: ${held} of its points over time lie outside what a curve can do and were held at its ends.`,
    );
  return { gainDb, restDb };
}

/**
 * Lays a cut out in a programme, on tracks of its own; empty tracks that were there give way. What reaches beyond its
 * media is shortened, and that is said.
 * @param media the programme's sources by `mediaKey`; clips of others are left out and named
 * @param newId gives an id for each track and clip
 */
export function placeCut(
  base: Project,
  cut: Cut,
  media: ReadonlyMap<string, Source>,
  newId: () => Id,
): PlacedCut {
  const { sampleRate } = base;
  const missing = new Set<string>();
  const warnings = [...cut.warnings];
  const faults = [...cut.faults];
  const clips: Clip[] = [];
  const frames = (seconds: number): number => Math.round(seconds * sampleRate);
  const curveAt = (points: readonly CutPoint[], from = 0) =>
    curveOf(points.map(({ seconds, ...point }) => ({ at: frames(seconds) + from, ...point })));
  const soundOf = (
    { balancePoints = [], curveReason, ...sound }: CutSound = {},
    curve: readonly CurvePoint[] = [],
  ) => ({
    ...sound,
    curve,
    ...(curveReason && { curveReason: { ...curveReason, points: curveWords(curve) } }),
    balanceCurve: balanceCurveOf(
      balancePoints.map(({ seconds, ...point }) => ({ at: frames(seconds), ...point })),
    ),
  });
  const busOf = (bus: Cut['bus']) => (bus ? { curve: curveAt(bus.curve), limiter: bus.limiter } : {});
  const fault = (kind: IntegrityFault['kind'], sentence: string): void => {
    warnings.push(sentence);
    faults.push({ kind, sentence });
  };
  const warn = (text: string): void => fault('altered', text);
  const place = (clip: CutClip, trackId: Id): void => {
    const source = media.get(mediaKey(clip.media));
    if (!source) {
      missing.add(mediaKey(clip.media));
      return;
    }
    const room = sourceLength(source, sampleRate);
    const first = frames(sourceSeconds(clip, source));
    // Edges are rounded in the programme's time, so that clips that touch still touch.
    const start = Math.max(0, frames(clip.start));
    const wanted = frames(clip.start + clip.length) - start;
    const lost = Math.max(0, -first);
    const length = Math.min(wanted, room - first) - lost;
    if (length <= 0) {
      fault('leftOut', `“${clip.name}” lies outside its media “${clip.media.name}” and is left out.`);
      return;
    }
    if (length < wanted - 1)
      fault(
        'truncated',
        `“${clip.name}” asks for ${((wanted - length) / sampleRate).toFixed(2)} s more than “${clip.media.name}” has.`,
      );
    const { gainDb, restDb } = heldGain(clip, warn);
    const fadeIn = Math.min(frames(clip.fadeIn), length);
    clips.push({
      id: newId(),
      trackId,
      sourceId: source.id,
      name: clip.name,
      start: start + lost,
      length,
      sourceStart: first + lost,
      ...PLAIN_CLIP,
      trimDb: source.trimDb + restDb,
      gain:
        gainDb === 0 && !clip.reason
          ? AS_RECORDED
          : { db: gainDb, lastChangeDb: gainDb, reason: clip.reason ?? { kind: 'byHand' } },
      fadeIn,
      fadeOut: Math.min(frames(clip.fadeOut), length - fadeIn),
      // Points count from where the clip's own place does.
      ...soundOf(clip.sound, curveAt(clip.curve, first - frames(clip.sourceStart))),
      passthrough: clip.passthrough,
    });
  };
  const tracks = cut.tracks.map((track): Track => {
    const id = newId();
    for (const clip of track.clips) place(clip, id);
    return {
      id,
      name: track.name,
      role: track.role ?? 'dialogue',
      ...PLAIN_TRACK,
      ...busOf(track.bus),
      muted: track.passthrough?.['enabled'] === false,
      passthrough: track.passthrough,
    };
  });
  const takesBus = base.clips.length === 0;
  if (!takesBus && cut.bus && (cut.bus.curve.length > 0 || cut.bus.limiter))
    warn('What the timeline has on its whole programme is not taken over: this programme has clips already.');
  const used = new Set(base.clips.map(({ trackId }) => trackId));
  const taken = base.markers.map(({ at, name }) => `${at} ${name}`);
  const markers = (cut.markers ?? []).flatMap(({ seconds, name, passthrough }): Marker[] => {
    const at = frames(seconds);
    return taken.includes(`${at} ${name}`) ? [] : [{ id: newId(), at, name, passthrough }];
  });
  const names = shortestNames(cut);
  const lost = [...missing]
    .map((key) => ({ key, name: names.get(key)! }))
    .sort((a, b) => (a.name < b.name ? -1 : 1));
  const project = {
    ...base,
    markers: [...base.markers, ...markers].sort((a, b) => a.at - b.at),
    ...(takesBus && { ...busOf(cut.bus), time: timeOf(base, cut) }),
    passthrough: cut.passthrough ?? base.passthrough,
    tracks: [...base.tracks.filter(({ id }) => used.has(id)), ...tracks],
    clips: [...base.clips, ...clips],
    cutFaults: [
      ...(base.clips.length > 0 ? base.cutFaults : []),
      ...lost.map(({ name }): IntegrityFault => ({
        kind: 'leftOut',
        sentence: `${name} was not found or is ambiguous; its clips are left out.`,
      })),
      ...faults,
    ],
  };
  return { project, missing: lost, warnings };
}

/** Where the programme begins in time: where the cut says, unless that was set before. */
const timeOf = ({ time }: Project, { beginsAt, frameRateId }: Cut): Project['time'] =>
  beginsAt === undefined || beginsAt === 0 || time.startSeconds !== 0
    ? time
    : { startSeconds: beginsAt, frameRateId: time.frameRateId ?? frameRateId ?? null };
