import { amplitudeToDb } from '@/core/loudness/decibels';
import { figure, signed, withUnit } from '@/core/text/figures';
import { count } from '@/core/text/words';
import { finding, type Finding } from './finding';
import type { CheckMaterial, ClickPlace, Fault } from './material';
import { blocksToSeconds, runsWhere, secondsToBlocks } from './places';
import type { Thresholds } from './thresholds';

/** Faults no further apart than this are one place, seconds. */
const JOIN_SECONDS = 0.5;

const inClip = ({ clipName }: Pick<Fault, 'clipName'>): string => (clipName ? ` in ${clipName}` : '');

/** Faults close to each other as one place. */
function together<T extends Fault>(faults: readonly T[]): T[][] {
  const places: T[][] = [];
  let end = -Infinity;
  for (const fault of [...faults].sort((a, b) => a.from - b.from)) {
    const last = places.at(-1);
    if (last && fault.from - end <= JOIN_SECONDS && last[0]!.clipId === fault.clipId) last.push(fault);
    else places.push([fault]);
    end = Math.max(last && last === places.at(-1) ? end : -Infinity, fault.to);
  }
  return places;
}

const spanOf = (faults: readonly Fault[]) => ({
  from: faults[0]!.from,
  to: faults.reduce((end, { to }) => Math.max(end, to), 0),
  ...(faults[0]!.clipId !== undefined && { clipId: faults[0]!.clipId }),
});

/** Runs of samples at full scale. */
export function clippings({ clipped }: CheckMaterial, { clippedSamples }: Thresholds): Finding[] {
  return together(clipped.filter(({ samples }) => samples >= clippedSamples)).map((runs) => {
    const longest = runs.reduce((most, { samples }) => Math.max(most, samples), 0);
    const channels = [...new Set(runs.map(({ channel }) => channel))].join(', ');
    return finding(
      {
        ...{ kind: 'clipped', ...spanOf(runs), value: longest, limit: clippedSamples, unit: 'samples' },
        weight: 'look',
        sentence: `Clipped${inClip(runs[0]!)}: ${count(runs.length, 'run')} of samples at full scale, the longest ${longest} (${channels}).`,
      },
      runs[0]!.clipId ?? '',
    );
  });
}

/** Holes in the sound. */
export function holes({ dropOuts }: CheckMaterial): Finding[] {
  return together(dropOuts).map((runs) => {
    const longest = runs.reduce((most, { from, to }) => Math.max(most, to - from), 0);
    const channels = [...new Set(runs.map(({ channel }) => channel))].join(', ');
    const ms = Math.round(longest * 10_000) / 10;
    return finding(
      {
        ...{ kind: 'dropout', ...spanOf(runs), value: ms, limit: null, unit: 'ms', weight: 'look' },
        sentence: `${runs.length === 1 ? 'A hole' : `${runs.length} holes`} in the sound${inClip(runs[0]!)}, ${runs.length === 1 ? '' : 'the longest '}${figure(ms)} ms (${channels}).`,
      },
      runs[0]!.clipId ?? '',
    );
  });
}

/** Clicks that follow each other this closely, seconds, and so many of them, are likely the sound itself: plucked or struck. */
const CLICK_RUN_SECONDS = 2;
const CLICK_RUN = 8;

function clickFinding(
  { at, dbfs, overDb, clipId, clipName }: ClickPlace,
  { clickDbfs }: Thresholds,
): Finding {
  return finding({
    ...{ kind: 'click', from: at, to: at, value: dbfs, limit: clickDbfs, unit: 'dBFS', weight: 'look' },
    ...(clipId !== undefined && { clipId }),
    sentence: `A click${clipName ? ` at ${clipName}` : ''}: ${withUnit(dbfs, 'dBFS')}, ${
      Number.isFinite(overDb) ? `${signed(overDb)} dB over the sound around it` : 'out of silence'
    }.`,
  });
}

function clickRun(run: readonly ClickPlace[], { clickDbfs }: Thresholds): Finding {
  const [first, last] = [run[0]!, run.at(-1)!];
  const loudest = run.reduce((most, { dbfs }) => Math.max(most, dbfs), -Infinity);
  return finding(
    {
      ...{ kind: 'click', from: first.at, to: last.at, value: loudest, limit: clickDbfs, unit: 'dBFS' },
      ...(first.clipId !== undefined && { clipId: first.clipId }),
      weight: 'look',
      sentence: `${run.length} clicks in a row${inClip(first)}, the loudest ${withUnit(loudest, 'dBFS')}: a fault, or plucked or struck sound.`,
    },
    'run',
  );
}

/** Places where the wave turns far more sharply than around it; many in a row are one finding. */
export function clicksIn({ clicks }: CheckMaterial, thresholds: Thresholds): Finding[] {
  const { clickOverDb, clickDbfs } = thresholds;
  const runs: ClickPlace[][] = [];
  for (const click of clicks
    .filter(({ dbfs, overDb }) => overDb >= clickOverDb && dbfs >= clickDbfs)
    .sort((a, b) => a.at - b.at)) {
    const run = runs.at(-1);
    const last = run?.at(-1);
    if (last && click.at - last.at <= CLICK_RUN_SECONDS && click.clipId === last.clipId) run!.push(click);
    else runs.push([click]);
  }
  return runs.flatMap((run) =>
    run.length >= CLICK_RUN
      ? [clickRun(run, thresholds)]
      : run.map((click) => clickFinding(click, thresholds)),
  );
}

/** Over so many blocks an offset is looked for: long enough for the lowest notes to even out. */
const DC_BLOCKS = secondsToBlocks(5);

/** The mean of a channel over a few seconds around every block, weighted by a raised cosine. */
function means(sum: Float32Array, framesPerBlock: number): Float64Array {
  const width = Math.min(DC_BLOCKS, sum.length);
  const weights = Float64Array.from(
    { length: width },
    (_, i) => 0.5 - 0.5 * Math.cos((2 * Math.PI * (i + 0.5)) / width),
  );
  const total = weights.reduce((a, b) => a + b, 0) * framesPerBlock;
  return Float64Array.from({ length: sum.length }, (_, k) => {
    const first = Math.max(0, Math.min(sum.length - width, k - (width >> 1)));
    let mean = 0;
    for (let i = 0; i < width; i++) mean += weights[i]! * sum[first + i]!;
    return mean / total;
  });
}

/** A stretch is cut into pieces of this many blocks; an offset is there in nearly all of them, low notes come and go. */
const DC_PIECE = secondsToBlocks(0.5);
const DC_STEADY = 0.9;

/** Whether a mean is that of the whole stretch, and not of low frequencies within it. */
function isSteady(
  sum: Float32Array,
  framesPerBlock: number,
  from: number,
  to: number,
  mean: number,
): boolean {
  let [steady, pieces] = [0, 0];
  for (let first = from; first + DC_PIECE <= to; first += DC_PIECE) {
    let own = 0;
    for (let k = first; k < first + DC_PIECE; k++) own += sum[k]!;
    if (Math.abs(own / (DC_PIECE * framesPerBlock) - mean) <= Math.abs(mean) / 2) steady++;
    pieces++;
  }
  return pieces > 0 && steady >= DC_STEADY * pieces;
}

/** Sound that does not lie around zero: as a whole, or steadily over a longer stretch. */
export function offsets({ signal, layout, seconds }: CheckMaterial, { dcDbfs }: Thresholds): Finding[] {
  const limit = 10 ** (dcDbfs / 20);
  return signal.sum.flatMap((sum, c) => {
    const mean = means(sum, signal.framesPerBlock);
    const at = (k: number): number => Math.abs(mean[k]!);
    return runsWhere(sum.length, (k) => at(k) > limit, 1).flatMap((run) => {
      let most = run.from;
      for (let k = run.from; k < run.to; k++) if (at(k) > at(most)) most = k;
      // The window is wider than the place: its edges are where single blocks are half as far off.
      const there = (k: number): boolean => {
        const own = sum[k]! / signal.framesPerBlock;
        return Math.sign(own) === Math.sign(mean[most]!) && Math.abs(own) > at(most) / 2;
      };
      let [from, to] = [Math.max(0, run.from - DC_BLOCKS / 2), Math.min(sum.length, run.to + DC_BLOCKS / 2)];
      while (from < most && !there(from)) from++;
      while (to > most + 1 && !there(to - 1)) to--;
      const all = sum.reduce((total, one) => total + one, 0) / (sum.length * signal.framesPerBlock);
      const whole = from === 0 && to === sum.length && Math.abs(all) > limit;
      if (!whole && !isSteady(sum, signal.framesPerBlock, from, to, mean[most]!)) return [];
      const value = amplitudeToDb(at(most))!;
      const channel = layout.labels[c]!;
      return [
        finding(
          {
            ...{ kind: 'dc', ...blocksToSeconds({ from, to }, seconds), value, limit: dcDbfs, unit: 'dBFS' },
            weight: 'look',
            sentence: `Channel ${channel} does not lie around zero: offset ${withUnit(value, 'dBFS')} (${figure(100 * at(most), 2)} % of full scale).`,
          },
          channel,
        ),
      ];
    });
  });
}

/** Blocks in which there is something to hear, by power over all channels: over −60 dBFS. */
export const soundingBlock = (power: readonly Float32Array[], framesPerBlock: number) => (k: number) =>
  power.some((channel) => channel[k]! / framesPerBlock > 1e-6);
