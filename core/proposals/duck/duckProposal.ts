import { dbToPower } from '@/core/loudness/decibels';
import { integrated } from '@/core/loudness/gating';
import { mergeRanges } from '@/core/loudness/levelTrack';
import type { ClipMeasurement } from '@/core/measuring/measureClip';
import { curveDifference } from '@/core/programme/curve';
import {
  applyCurves,
  curveOtherwise,
  curveReasonOf,
  settledCurve,
  type WorkedCurve,
} from '@/core/programme/curveReason';
import { dialogueRanges, spokenClips } from '@/core/programme/dialogue';
import type { DuckTiming } from '@/core/programme/ducking';
import { PART_GAIN } from '@/core/programme/gainField';
import {
  clipEnd,
  programmeFrames,
  type Clip,
  type CurvePoint,
  type Id,
  type Project,
} from '@/core/programme/model';
import { clock, signed, withUnit } from '@/core/text/figures';
import { count } from '@/core/text/words';
import type { Proposal, ProposedRow } from '../protocol';
import { typedWords } from '../protocol';
import { duckedFor } from '../curveFor';
import { planAnchor } from '../plan';
import { blocksIn, Together, type HeardClip } from './levels';
import { aloneRanges, duckCurve, duckSpans, edgesOf, type DuckSpan } from './spans';

/** How music, effects or ambience are to step aside under speech. */
export interface DuckRequest {
  /** By an amount, or to a distance under the speech as it is measured. */
  readonly way: 'amount' | 'distance';
  /** How far down, dB. */
  readonly amountDb: number;
  /** How far under the speech, LU. */
  readonly distanceLu: number;
  /** Where it belongs while nobody speaks, LU relative to the target; `null`: as it is. Only with a distance. */
  readonly aloneLu: number | null;
  readonly timing: DuckTiming;
}

/** What is measured of clips, before their own gain, with all else that lies on them. */
export interface DuckMeasures {
  /** As they are. */
  readonly of: (clip: Clip) => ClipMeasurement | null;
  /** Without their gain curve. */
  readonly bare: (clip: Clip) => ClipMeasurement | null;
}

/** A clip that is to step aside. */
export interface DuckRow extends ProposedRow {
  readonly clip: Clip;
  readonly curve: readonly CurvePoint[];
  /** Loudness while nobody speaks, LUFS. */
  readonly aloneAfter: number | null;
}

/** A difference smaller than this is none, dB. */
const SAME_DB = 0.05;

const SKIPPED = {
  byHand:
    'Its gain curve was set by hand, or evened out, and is left alone: tick “Replace other curves” to replace it.',
  noSpeech: 'Nobody speaks while it sounds.',
  notMeasured: 'It is still being measured.',
  silent: 'Nothing in it is over −70 LUFS.',
} as const;

/** What a clip has in each span and outside of all, as mean squares of its gating blocks before its curve. */
class OwnBlocks {
  readonly spans: readonly number[][];
  readonly alone: readonly number[];

  constructor(
    private readonly heard: HeardClip,
    sampleRate: number,
    spans: readonly DuckSpan[],
    timing: DuckTiming,
  ) {
    const begin = heard.clip.start / sampleRate;
    const length = heard.clip.length / sampleRate;
    const last = heard.measurement.blocks.length - 1;
    const inClip = (from: number, to: number): number[] => {
      const range = { from: Math.max(0, from - begin), to: Math.min(length, to - begin) };
      return range.to > range.from ? blocksIn(range).filter((k) => k <= last) : [];
    };
    this.spans = spans.map(({ from, to }) => inClip(from, to));
    this.alone = aloneRanges(spans, timing, begin, begin + length).flatMap(({ from, to }) =>
      inClip(from, to),
    );
  }

  private blocks(places: readonly number[], db: number): number[] {
    const power = dbToPower(this.heard.gainDb + db);
    return places.map((k) => this.heard.measurement.blocks[k]! * power);
  }

  /** Loudness under speech with a gain in each span, LUFS. */
  under(db: readonly number[]): number | null {
    return integrated(Float64Array.from(this.spans.flatMap((places, i) => this.blocks(places, db[i]!))))
      .integratedLufs;
  }

  aloneAt(db: number): number | null {
    return integrated(Float64Array.from(this.blocks(this.alone, db))).integratedLufs;
  }
}

/** Where the speech of a programme is, and how loud it and what steps aside are in each span. */
function surroundings(
  project: Project,
  request: DuckRequest,
  measures: DuckMeasures,
  bed: readonly HeardClip[],
) {
  const { sampleRate } = project;
  const spans = duckSpans(mergeRanges(dialogueRanges(project)), request.timing);
  if (request.way === 'amount') return { spans, toDistance: () => null };
  const seconds = programmeFrames(project) / sampleRate;
  const speaking = spokenClips(project).flatMap((clip): HeardClip[] => {
    const measurement = measures.of(clip);
    return measurement ? [{ clip, measurement, gainDb: clip.gain.db }] : [];
  });
  const speech = new Together(speaking, sampleRate, seconds);
  const other = new Together(bed, sampleRate, seconds);
  const all = speech.within(spans.flatMap(({ words }) => words));
  return {
    spans,
    /** The gain that brings all that steps aside to its distance; `null` where nothing sounds. */
    toDistance: (span: DuckSpan): number | null => {
      const said = speech.within(span.words) ?? all;
      const own = other.within([span]);
      return said === null || own === null ? null : said - request.distanceLu - own;
    },
  };
}

/** What is said of one clip. */
function sentenceOf(
  [from, to]: readonly [number, number],
  spans: readonly DuckSpan[],
  under: readonly number[],
  aloneDb: number,
  { gainAfterDb, after, aloneAfter, curve }: Pick<DuckRow, 'gainAfterDb' | 'after' | 'aloneAfter' | 'curve'>,
  heldUp: boolean,
): string {
  const seconds = spans.reduce((sum, span) => sum + Math.min(to, span.to) - Math.max(from, span.from), 0);
  const [least, most] = [Math.min(...under), Math.max(...under)];
  const by = most - least < SAME_DB ? `${signed(gainAfterDb)} dB` : `${signed(least)} to ${signed(most)} dB`;
  const where =
    spans.length === 1
      ? `from ${clock(Math.max(from, spans[0]!.from))}`
      : `at ${count(spans.length, 'place')}`;
  const alone =
    aloneAfter === null ? '' : `; alone ${signed(aloneDb)} dB, to ${withUnit(aloneAfter, 'LUFS')}`;
  const low = heldUp ? '; where it lies lower already it is left there' : '';
  return `Under speech ${where}, ${clock(seconds)} in total: ${by}, to ${withUnit(after, 'LUFS')}${alone}${low}; ${count(curve.length, 'point')}.`;
}

/**
 * Has clips step aside while somebody speaks: by an amount, or to a distance under the speech as both are measured. All of them
 * go down together, so that their balance stays.
 * @param release clips whose curve was set by hand and is replaced all the same
 */
export function duckProposal(
  project: Project,
  clips: readonly Clip[],
  request: DuckRequest,
  measures: DuckMeasures,
  release = false,
): Proposal<DuckRow> {
  const { sampleRate } = project;
  const { timing } = request;
  const distance = request.way === 'distance';
  const wanted = clips.filter((clip) => release || !curveOtherwise(clip, 'ducked'));
  const bed = wanted.flatMap((clip): HeardClip[] => {
    const measurement = measures.bare(clip);
    return measurement ? [{ clip, measurement, gainDb: clip.gain.db }] : [];
  });
  const { spans: all, toDistance } = surroundings(project, request, measures, bed);
  const wantedDb = new Map(all.map((span) => [span, toDistance(span)]));
  const heard = new Map(bed.map((one) => [one.clip.id, one]));

  const skipped = (clip: Clip, why: keyof typeof SKIPPED): DuckRow => ({
    ...{ id: clip.id, name: clip.name, clip, curve: clip.curve },
    ...{ before: null, after: null, aloneAfter: null, gainBeforeDb: 0, gainAfterDb: 0 },
    ...{ truePeakAfter: null, exactPeakAfter: null, noiseFloorAfter: null, limitedBy: null },
    ...{ passesCeiling: false, warnings: [], skipped: why, sentence: SKIPPED[why] },
  });

  /** @param typed a gain under speech in place of the one worked out */
  const rowOf = (clip: Clip, typed: number | null = null): DuckRow => {
    if (!release && curveOtherwise(clip, 'ducked')) return skipped(clip, 'byHand');
    const own = heard.get(clip.id);
    if (!own) return skipped(clip, 'notMeasured');
    if (own.measurement.figures.truePeakDbtp === null) return skipped(clip, 'silent');
    const [from, to] = [clip.start / sampleRate, clipEnd(clip) / sampleRate];
    const near = all.filter((span) => {
      const { begins, ends } = edgesOf(span, timing);
      return ends > from && begins < to;
    });
    const over = near.filter((span) => span.to > from && span.from < to);
    const reason = curveReasonOf(clip);
    if (over.length === 0 && reason?.kind !== 'ducked') return skipped(clip, 'noSpeech');
    const blocks = new OwnBlocks(own, sampleRate, near, timing);
    const aloneNow = blocks.aloneAt(0);
    const aloneGoal = distance && request.aloneLu !== null ? planAnchor(project) + request.aloneLu : null;
    const held = (db: number): number => Math.max(PART_GAIN.min, Math.min(PART_GAIN.max, db));
    const aloneDb = aloneGoal === null || aloneNow === null ? 0 : held(aloneGoal - aloneNow);
    const asked = near.map(
      (span) => typed ?? (distance ? (wantedDb.get(span) ?? aloneDb) : aloneDb - request.amountDb),
    );
    // What nobody hears alone need not stay under anything.
    const highest = typed !== null || aloneNow === null ? Infinity : aloneDb;
    const under = asked.map((db) => held(Math.min(highest, db)));
    const curve = settledCurve(duckCurve(clip, sampleRate, near, under, aloneDb, timing), clip);
    const none = near.map(() => 0);
    const bare = blocks.under(none);
    const current = measures.of(clip);
    const now =
      current === null
        ? null
        : new OwnBlocks({ ...own, measurement: current }, sampleRate, near, timing).under(none);
    const after = blocks.under(under);
    const aloneAfter = blocks.aloneAt(aloneDb);
    const gainAfterDb = after === null || bare === null ? (under[0] ?? 0) : after - bare;
    const same = curveDifference(curve, clip.curve) === null;
    const row = { gainAfterDb, after, aloneAfter, curve };
    const heldUp = distance && asked.some((db, i) => db > under[i]! + SAME_DB);
    return {
      ...{ id: clip.id, name: clip.name, clip, ...row },
      before: now,
      gainBeforeDb: now === null || bare === null ? 0 : now - bare,
      ...{ truePeakAfter: null, exactPeakAfter: null, noiseFloorAfter: null, limitedBy: null },
      ...{ passesCeiling: false, warnings: [], skipped: null },
      sentence:
        over.length === 0
          ? 'Nobody speaks over it any more: its curve is taken off.'
          : same
            ? `It stands there already: ${withUnit(after, 'LUFS')} under speech.`
            : `${typed === null ? '' : 'By hand. '}${sentenceOf(
                [from, to],
                over,
                under.filter((_, i) => over.includes(near[i]!)),
                aloneDb,
                row,
                heldUp,
              )}`,
    };
  };

  return {
    rows: clips.map((clip) => rowOf(clip)),
    unit: 'LUFS',
    gives: 'gain',
    range: { ...PART_GAIN, name: 'Gain under speech' },
    inexact: [],
    typed: (row, gainDb) => (row.skipped === null ? rowOf(row.clip, gainDb) : row),
    edit: (current, rows) =>
      applyCurves(
        current,
        new Map(
          rows.flatMap(({ id, clip, curve, skipped }): [Id, WorkedCurve][] => {
            const of = duckedFor(current, clip, distance);
            const stands =
              curveDifference(curve, clip.curve) === null && (curveReasonOf(clip)?.of ?? of) === of;
            return skipped !== null || stands ? [] : [[id, { curve, kind: 'ducked', of }]];
          }),
        ),
      ),
    step: (rows, typed) =>
      `Duck ${rows.length === 1 ? rows[0]!.name : count(rows.length, 'clip')} under speech${typedWords(typed)}`,
  };
}
