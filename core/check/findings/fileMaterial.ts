import type { AudioFormat } from '@/core/audio/reader';
import { detailsOf, type SignalDetails } from '@/core/loudness/details';
import { figuresOf } from '@/core/loudness/figures';
import type { TimeRange } from '@/core/loudness/levelTrack';
import type { ReaderMeasurement } from '@/core/loudness/measureReader';
import { overChannels } from '@/core/loudness/sound';
import { weightedEnergy } from '@/core/loudness/subBlocks';
import type { CheckMaterial, ClickPlace, ClippedRun, Fault } from './material';

/** Clicks of several channels at one time are one, seconds. */
const SAME_CLICK = 0.002;

/** What is wrong in the samples of a sound, by its details. */
export function faultsOf(
  { clippedRuns, dropOuts, clicks }: Pick<SignalDetails, 'clippedRuns' | 'dropOuts' | 'clicks'>,
  sampleRate: number,
): { readonly clipped: ClippedRun[]; readonly dropOuts: Fault[]; readonly clicks: ClickPlace[] } {
  const places: ClickPlace[] = [];
  for (const { atSeconds: at, dbfs, overDb } of clicks) {
    const click = { at, dbfs, overDb: overDb ?? Infinity };
    const last = places.at(-1);
    if (!last || at - last.at > SAME_CLICK) places.push(click);
    else if (dbfs > last.dbfs) places[places.length - 1] = click;
  }
  return {
    clipped: clippedRuns.map(({ startSeconds: from, lengthSeconds, channel }) => ({
      ...{ from, to: from + lengthSeconds, channel },
      samples: Math.round(lengthSeconds * sampleRate),
    })),
    dropOuts: dropOuts.map(({ startSeconds: from, lengthSeconds, channel }) => ({
      ...{ from, to: from + lengthSeconds, channel },
    })),
    clicks: places,
  };
}

/**
 * What findings of a finished file are worked out from.
 * @param speech when somebody speaks, in order; `null` when nothing says so
 */
export function fileMaterial(
  measured: ReaderMeasurement,
  format: AudioFormat,
  speech: readonly TimeRange[] | null,
): CheckMaterial {
  const { history, scan } = measured;
  const { sampleRate, layout } = history;
  const seconds = history.frames / sampleRate;
  return {
    ...{ seconds, sampleRate, layout },
    figures: figuresOf(history),
    energy: weightedEnergy(history),
    truePeaks: overChannels(history.truePeak),
    samplePeak: history.samplePeak,
    signal: scan.blocks,
    ...faultsOf(detailsOf(measured), sampleRate),
    ...{ speech, apart: null, cuts: null },
    form: {
      ...{ seconds, sampleRate, layoutId: layout.id, layoutName: layout.name },
      ...{ bitDepth: format.bitDepth, container: format.container },
    },
    integrity: format.integrity,
  };
}
