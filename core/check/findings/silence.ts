import { SUB_BLOCKS_PER_SECOND } from '@/core/loudness/subBlocks';
import { clock, withUnit } from '@/core/text/figures';
import type { SilenceFigures } from '../verdict';
import { finding, type Finding } from './finding';
import { SILENT } from './loud';
import type { CheckMaterial } from './material';
import { runsWhere } from './places';
import type { Thresholds } from './thresholds';

interface Silences {
  /** Within the sound, sub-blocks. */
  readonly within: readonly { readonly from: number; readonly to: number }[];
  readonly figures: SilenceFigures;
}

/** Where it is silent: sub-blocks (20 ms) under −70 LUFS. */
function silencesOf({ energy, sampleRate, seconds }: CheckMaterial): Silences {
  const limit = (SILENT * sampleRate) / SUB_BLOCKS_PER_SECOND;
  let first = 0;
  while (first < energy.length && energy[first]! <= limit) first++;
  let last = energy.length;
  while (last > first && energy[last - 1]! <= limit) last--;
  if (first === energy.length)
    return { within: [], figures: { longest: seconds, head: seconds, tail: seconds } };
  const within = runsWhere(last - first, (k) => energy[first + k]! <= limit, 1, 0).map(({ from, to }) => ({
    from: from + first,
    to: to + first,
  }));
  const longest = within.reduce((most, { from, to }) => Math.max(most, to - from), 0);
  return {
    within,
    figures: {
      longest: longest / SUB_BLOCKS_PER_SECOND,
      head: first / SUB_BLOCKS_PER_SECOND,
      tail: Math.max(0, seconds - last / SUB_BLOCKS_PER_SECOND),
    },
  };
}

/** How long it is silent at most, before its first and after its last sound. */
export const silenceFigures = (material: CheckMaterial): SilenceFigures => silencesOf(material).figures;

/** Silence within it, and long silence at its head and tail. */
export function silences(material: CheckMaterial, { silenceSeconds, edgeSeconds }: Thresholds): Finding[] {
  const { seconds } = material;
  const { within, figures } = silencesOf(material);
  const { head, tail } = figures;
  if (head >= seconds) {
    return [
      finding({
        ...{ kind: 'silence', from: 0, to: seconds, whole: true, value: seconds, limit: silenceSeconds },
        ...{ unit: 's', weight: 'look', sentence: 'There is nothing over −70 LUFS: it is silent.' },
      }),
    ];
  }
  const edge = (kind: 'head' | 'tail', from: number, to: number): Finding[] =>
    to - from < edgeSeconds
      ? []
      : [
          finding({
            ...{ kind, from, to, value: to - from, limit: edgeSeconds, unit: 's', weight: 'look' },
            sentence: `Silent for ${withUnit(to - from, 's')} at its ${kind}.`,
          }),
        ];
  const places = within.flatMap(({ from, to }) => {
    const [begin, end] = [from / SUB_BLOCKS_PER_SECOND, to / SUB_BLOCKS_PER_SECOND];
    const value = end - begin;
    if (value < silenceSeconds) return [];
    return [
      finding({
        ...{ kind: 'silence', from: begin, to: end, value, limit: silenceSeconds, unit: 's', weight: 'look' },
        sentence: `Silent for ${withUnit(value, 's')}, from ${clock(begin)}.`,
      }),
    ];
  });
  return [...edge('head', 0, head), ...places, ...edge('tail', seconds - tail, seconds)];
}
