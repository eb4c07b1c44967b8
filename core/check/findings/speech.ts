import type { TimeRange } from '@/core/loudness/levelTrack';
import { integratedWithin } from '@/core/loudness/levelTrack';
import { HOP_SUB_BLOCKS, SUB_BLOCKS_PER_SECOND } from '@/core/loudness/subBlocks';
import { figure, withUnit } from '@/core/text/figures';
import { FAR_LU } from '@/core/text/overRest';
import type { DialogueFigures } from '../verdict';
import { finding, type Finding } from './finding';
import type { ApartLevels, CheckMaterial } from './material';
import { blocksToSeconds, runsWhere, secondsToBlocks, totals } from './places';
import type { Thresholds } from './thresholds';

/** Length of the window over which speech and the rest are compared: a short-term window, seconds. */
const WINDOW_SECONDS = 3;
/** So much of it somebody has to speak, seconds. */
const SPOKEN_SECONDS = 1;

/** Energy of speech and of the rest while somebody speaks, by 100 ms. */
function spokenEnergies(
  { speech, rest }: ApartLevels,
  ranges: readonly TimeRange[],
): { readonly speech: Float64Array; readonly rest: Float64Array; readonly spoken: Float64Array } {
  const blocks = Math.ceil(speech.length / HOP_SUB_BLOCKS);
  const sums = {
    speech: new Float64Array(blocks),
    rest: new Float64Array(blocks),
    spoken: new Float64Array(blocks),
  };
  for (const { from, to } of ranges) {
    const end = Math.min(speech.length, Math.round(to * SUB_BLOCKS_PER_SECOND));
    for (let k = Math.max(0, Math.round(from * SUB_BLOCKS_PER_SECOND)); k < end; k++) {
      const block = Math.floor(k / HOP_SUB_BLOCKS);
      sums.speech[block]! += speech[k]!;
      sums.rest[block]! += rest[k]!;
      sums.spoken[block]! += 1 / SUB_BLOCKS_PER_SECOND;
    }
  }
  return sums;
}

const distance = (speech: number, rest: number): number =>
  Math.max(-FAR_LU, Math.min(FAR_LU, 10 * Math.log10(Math.max(1e-30, speech) / Math.max(1e-30, rest))));

/** How far the rest lies under speech around every 100 ms, LU; `null` where nobody speaks. */
export function speechDistances(apart: ApartLevels, ranges: readonly TimeRange[]): (number | null)[] {
  const energies = spokenEnergies(apart, ranges);
  const [speech, rest, spoken] = [totals(energies.speech), totals(energies.rest), totals(energies.spoken)];
  const half = secondsToBlocks(WINDOW_SECONDS) / 2;
  const blocks = energies.speech.length;
  return Array.from({ length: blocks }, (_, k) => {
    if (energies.spoken[k] === 0) return null;
    const [from, to] = [Math.max(0, k - half), Math.min(blocks, k + half)];
    const within = (sums: Float64Array): number => sums[to]! - sums[from]!;
    return within(spoken) < SPOKEN_SECONDS - 1e-9 ? null : distance(within(speech), within(rest));
  });
}

/** Loudness and share of speech, and how far the rest lies under it. */
export function dialogueFigures(
  material: Pick<CheckMaterial, 'energy' | 'sampleRate' | 'seconds' | 'speech' | 'apart'>,
): DialogueFigures | null {
  const { speech, apart, seconds } = material;
  if (!speech) return null;
  const { integratedLufs: lufs, seconds: spoken } = integratedWithin(material, speech);
  const sums = apart && spokenEnergies(apart, speech);
  const all = (values: Float64Array): number => values.reduce((a, b) => a + b, 0);
  return {
    lufs,
    sharePercent: seconds > 0 ? (100 * spoken) / seconds : 0,
    overRestLu: sums && all(sums.spoken) > 0 ? distance(all(sums.speech), all(sums.rest)) : null,
  };
}

/** Places where the rest comes too close to speech. */
export function sinkingDialogue(
  { apart, speech, seconds }: CheckMaterial,
  { dialogueLu }: Thresholds,
): Finding[] {
  if (!apart || !speech) return [];
  const distances = speechDistances(apart, speech);
  return runsWhere(distances.length, (k) => (distances[k] ?? Infinity) < dialogueLu - 1e-6, 1, 10).map(
    (run) => {
      let value = Infinity;
      for (let k = run.from; k < run.to; k++) value = Math.min(value, distances[k] ?? Infinity);
      const span = blocksToSeconds(run, seconds);
      return finding({
        ...{ kind: 'dialogue', ...span, value, limit: dialogueLu, unit: 'LU', weight: 'look' },
        sentence:
          value < 0
            ? `The rest is ${figure(-value)} LU louder than speech.`
            : `The rest comes within ${withUnit(value, 'LU')} of speech.`,
      });
    },
  );
}
