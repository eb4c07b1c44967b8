import { dbToPower } from '@/core/loudness/decibels';
import { SUB_BLOCKS_PER_SECOND } from '@/core/loudness/subBlocks';
import { spokenClips } from '@/core/programme/dialogue';
import { clock, signed, withUnit } from '@/core/text/figures';
import type { Finding } from '@/core/check/findings/finding';
import { speechDistances } from '@/core/check/findings/speech';
import { withFix, type Fix, type FixChange } from './fix';
import type { Workshop } from './workshop';

/** Brought so far past the limit, LU. */
const SPARE_LU = 0.01;
/** What has to go down by more than this is no fix, dB. */
const MOST_DB = 30;

/** Speech and the rest with all of the rest lower over a range by a power. */
function loweredRest(rest: Float64Array, from: number, to: number, power: number): Float64Array {
  return rest.map((energy, k) => {
    const seconds = (k + 0.5) / SUB_BLOCKS_PER_SECOND;
    return seconds >= from && seconds < to ? energy * power : energy;
  });
}

/**
 * Lowers what sounds beside speech where it comes too close: all of it together, so that its balance stays. What lies
 * around the place counts as well, so it is made sure of by what it comes to.
 */
export async function besideSpeech(
  { from, to, value, limit }: Finding,
  { project, material, tryOut, clipsOver }: Workshop,
): Promise<Omit<Fix, 'findingId'> | null> {
  const { apart, speech } = material;
  if (!apart || !speech || value === null || limit === null) return null;
  const spoken = new Set(spokenClips(project).map(({ id }) => id));
  const others = (await clipsOver({ from, to })).filter(
    ({ clip, energy }) => !spoken.has(clip.id) && energy > 0,
  );
  if (others.length === 0) return null;
  const { sampleRate } = project;
  // Windows of 3 s around the place hear what lies beside it.
  const [begin, end] = [Math.max(0, from - 1.5), Math.min(material.seconds, to + 1.5)];
  const closest = (db: number): number => {
    const rest = loweredRest(apart.rest, begin, end, dbToPower(-db));
    return speechDistances({ speech: apart.speech, rest }, speech)
      .slice(Math.floor(from * 10), Math.ceil(to * 10))
      .reduce<number>((least, distance) => Math.min(least, distance ?? Infinity), Infinity);
  };
  const db = limit - value + SPARE_LU;
  if (db > MOST_DB) return null;
  const range = { from: Math.round(begin * sampleRate), to: Math.round(end * sampleRate) };
  const clipIds = others.map(({ clip }) => clip.id);
  const change: FixChange = { kind: 'parts', clipIds, range, db: -db };
  const state = await tryOut(withFix(project, change));
  const after = closest(db);
  const names = others.map(({ clip }) => clip.name);
  const what = `${signed(-db)} dB on ${names.slice(0, 2).join(' and ')}${names.length > 2 ? ` and ${names.length - 2} more` : ''}, ${clock(begin)}–${clock(end)}`;
  const changeLu = (state.figures.integratedLufs ?? -70) - (material.figures.integratedLufs ?? -70);
  return {
    ...{ change, what, before: value, after, changeLu, mends: after >= limit - 1e-6 },
    ...{ integratedLufs: state.figures.integratedLufs, truePeakDbtp: state.figures.truePeakDbtp },
    sentence: `${what}: the rest ${withUnit(after, 'LU')} under speech, programme ${signed(changeLu, 2)} LU.`,
  };
}
