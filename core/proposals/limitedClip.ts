import type { AudioReader } from '@/core/audio/reader';
import { isPeak } from '@/core/measuring/clipReading';
import { baseDbOf } from '@/core/programme/clipGain';
import { applyGains } from '@/core/programme/edits/gain';
import { changeLimiters } from '@/core/programme/edits/limiters';
import { CLIP_GAIN } from '@/core/programme/gainField';
import type { Clip, Id, Limiter, Project } from '@/core/programme/model';
import { clipAlone } from '@/core/signal/clipPiece';
import type { ClipSound } from '@/core/signal/clipSound';
import { SPEECH_AND_MUSIC } from '@/core/signal/limiter/presets';
import { signed, withUnit } from '@/core/text/figures';
import { measureLimited, solveLimited, type LimitedAt, type LimitedGain } from './limitedGain';
import { limiterSentences } from './limiterWords';
import { gainsOf } from './propose';
import type { LevelRequest, ProposalRow } from './proposal';
import type { Proposal } from './protocol';

/** A clip that is levelled through a limiter of its own. */
export interface ClipLimiting {
  /** At the ceiling that is heard: with the gain of its track. */
  readonly limiter: Limiter;
  /** What sounds besides its gain, dB. */
  readonly baseDb: number;
  /** Which loudness is to be reached; `null`: its gain is set, and only what comes of it is asked for. */
  readonly goalLufs: number | null;
  /** Its gain without the limiter, and the largest that it can have, dB. */
  readonly startDb: number;
  readonly mostDb: number;
}

/**
 * The gain that brings a clip to a loudness through a limiter, or what a gain comes to.
 * @param reader its source
 * @returns `null` when stopped, or when there is nothing to measure
 */
export async function limitClip(
  reader: AudioReader,
  sound: ClipSound,
  { limiter, baseDb, goalLufs, startDb, mostDb }: ClipLimiting,
  proceed: (done: number) => boolean | Promise<boolean>,
): Promise<LimitedGain | null> {
  const alone = clipAlone(reader, sound);
  // A gain behind a limiter is as one before it with the ceiling moved along: all of it goes before.
  const at: LimitedAt = (gainDb, onDone) => measureLimited(alone, limiter, gainDb + baseDb, onDone);
  if (goalLufs !== null) return solveLimited(at, goalLufs, startDb, mostDb, proceed);
  const measured = await at(startDb, proceed);
  return measured && { ...measured, gainDb: startDb, fallsShort: false };
}

/** Something that has to be worked out through a limiter, and what for. */
export interface LimitWanted {
  readonly clip: Clip;
  readonly asked: ClipLimiting;
  /** The same for the same clip and the same question. */
  readonly key: string;
}

/** What of a proposal has to be worked out through limiters. */
export function limitsWanted(
  project: Project,
  rows: readonly ProposalRow[],
  { measure, mode, goal, ceilingDbtp }: LevelRequest,
): LimitWanted[] {
  const base = baseDbOf(project);
  const clips = new Map(project.clips.map((clip) => [clip.id, clip]));
  return rows.flatMap((row): LimitWanted[] => {
    const clip = clips.get(row.id);
    if (!clip || !row.needsLimiter || row.skipped !== null) return [];
    const limiter = { ...(clip.limiter ?? SPEECH_AND_MUSIC), ceilingDbtp, inputDb: 0, bypassed: false };
    // Together with others it has the gain that they have; another measure than loudness is not solved for.
    const solves = mode === 'each' && measure === 'integrated' && row.reason.kind !== 'byHand';
    const goalLufs = solves ? goal : null;
    const asked = { limiter, baseDb: base(clip), goalLufs, startDb: row.gainAfterDb, mostDb: CLIP_GAIN.max };
    return [{ clip, asked, key: `${clip.id} ${JSON.stringify(asked)}` }];
  });
}

/** The proposal with what was worked out through limiters in the place of what is without, and the limiters put on its clips. */
export function withLimits(
  proposal: Proposal<ProposalRow>,
  project: Project,
  request: LevelRequest,
  wanted: readonly LimitWanted[],
  found: ReadonlyMap<string, LimitedGain>,
): Proposal<ProposalRow> {
  if (request.policy !== 'limit' || isPeak(request.measure)) return proposal;
  const byId = new Map(wanted.map((one) => [one.clip.id, one]));
  const trackDb = new Map<Id, number>(project.tracks.map(({ id, gainDb }) => [id, gainDb]));
  const limited = (row: ProposalRow): ProposalRow => {
    const one = byId.get(row.id);
    const gain = one && found.get(one.key);
    if (!one || !gain) return row;
    const seconds = one.clip.length / project.sampleRate;
    // What its peak was before any gain says where gain alone would end.
    const aloneDb =
      row.truePeakAfter === null ? null : request.ceilingDbtp - (row.truePeakAfter - row.gainAfterDb);
    // What its gain does to its noise floor, and what is to check, is known without the limiter.
    const { noiseFloorAfter, warnings } = proposal.typed(row, gain.gainDb);
    return {
      ...row,
      ...{ noiseFloorAfter, warnings },
      gainAfterDb: gain.gainDb,
      after: gain.after.integratedLufs,
      integratedAfter: gain.after.integratedLufs,
      truePeakAfter: gain.after.truePeakDbtp,
      exactPeakAfter: null,
      sentence: [
        `${signed(gain.gainDb)} dB, to ${withUnit(gain.after.integratedLufs, 'LUFS')}.`,
        ...limiterSentences(one.asked.limiter, gain, seconds),
        ...(aloneDb === null ? [] : [`Gain alone would stop at ${signed(aloneDb)} dB.`]),
      ].join(' '),
    };
  };
  return {
    ...proposal,
    rows: proposal.rows.map(limited),
    typed: (row, gainDb) => {
      const typed = proposal.typed(row, gainDb);
      return typed.needsLimiter
        ? {
            ...typed,
            sentence: `${typed.sentence} Its limiter keeps the ceiling; the figures are before it.`,
          }
        : typed;
    },
    edit: (current, rows) => {
      const levelled = applyGains(current, gainsOf(rows));
      const clips = new Map(levelled.clips.map((clip) => [clip.id, clip]));
      return rows
        .filter(({ needsLimiter, skipped }) => needsLimiter && skipped === null)
        .reduce((state, { id }) => {
          const clip = clips.get(id);
          const { limiter } = byId.get(id)?.asked ?? {};
          if (!clip || !limiter) return state;
          // It stands before the gain of its track.
          const ceilingDbtp = limiter.ceilingDbtp - (trackDb.get(clip.trackId) ?? 0);
          const own = { ...limiter, ceilingDbtp };
          return changeLimiters(state, { kind: 'clips', ids: new Set([id]) }, () => own);
        }, levelled);
    },
    step: (rows, typed) => {
      const n = rows.filter(({ needsLimiter }) => needsLimiter).length;
      return `${proposal.step(rows, typed)}${n > 0 ? `, ${n} limited to ${withUnit(request.ceilingDbtp, 'dBTP')}` : ''}`;
    },
  };
}
