import { amplitudeToDb } from '@/core/loudness/decibels';
import { isBass, type SignalBlocks } from '@/core/loudness/signalBlocks';
import { largest } from '@/core/loudness/figures';
import { clock, figure, withUnit } from '@/core/text/figures';
import type { Target } from '../target';
import { finding, type Finding } from './finding';
import { soundingBlock } from './faults';
import type { CheckMaterial } from './material';
import { blocksToSeconds, runsWhere, secondsToBlocks } from './places';
import type { Thresholds } from './thresholds';

/** A channel that never passes this has nothing on it, dBFS. */
const NOTHING_DBFS = -80;

const totalOf = (values: Float32Array): number => values.reduce((sum, value) => sum + value, 0);

/** Left and right against each other. */
export function outOfPhase({ signal, seconds }: CheckMaterial, thresholds: Thresholds): Finding[] {
  const { product, power, framesPerBlock } = signal;
  const [a, b] = power;
  if (!a || !b || product.length === 0) return [];
  const sounds = soundingBlock([a, b], framesPerBlock);
  const correlation = (from: number, to: number): number => {
    let [ab, aa, bb] = [0, 0, 0];
    for (let k = from; k < to; k++) {
      ab += product[k]!;
      aa += a[k]!;
      bb += b[k]!;
    }
    return aa > 0 && bb > 0 ? ab / Math.sqrt(aa * bb) : 0;
  };
  const limit = thresholds.correlation;
  const least = secondsToBlocks(thresholds.sideSeconds);
  return runsWhere(product.length, (k) => sounds(k) && correlation(k, k + 1) < limit, least).flatMap(
    (run) => {
      const value = correlation(run.from, run.to);
      if (value >= limit) return [];
      const span = blocksToSeconds(run, seconds);
      return [
        finding({
          ...{ kind: 'phase', ...span, value, limit, unit: '', weight: 'look' },
          sentence: `Left and right are against each other for ${figure(span.to - span.from)} s (correlation ${figure(value, 2)}): in mono it is quieter or gone.`,
        }),
      ];
    },
  );
}

/** Sound on one side only. */
export function oneSided({ signal, seconds, layout }: CheckMaterial, thresholds: Thresholds): Finding[] {
  const { power, framesPerBlock } = signal;
  const [a, b] = power;
  if (!a || !b) return [];
  const loud = 1e-5 * framesPerBlock;
  const ratio = 10 ** (thresholds.sideDb / 10);
  const least = secondsToBlocks(thresholds.sideSeconds);
  const missing = (quiet: Float32Array, other: Float32Array, label: string): Finding[] =>
    runsWhere(quiet.length, (k) => other[k]! > loud && quiet[k]! * ratio < other[k]!, least).map((run) => {
      const span = blocksToSeconds(run, seconds);
      const part = (values: Float32Array): number => totalOf(values.subarray(run.from, run.to));
      const value = Math.min(120, 10 * Math.log10(part(other) / Math.max(1e-30, part(quiet))));
      return finding(
        {
          ...{ kind: 'channel', ...span, value, limit: thresholds.sideDb, unit: 'dB', weight: 'look' },
          sentence: `Nothing on ${label} for ${figure(span.to - span.from)} s from ${clock(span.from)}: ${value >= 120 ? 'silent' : withUnit(value, 'dB')} under the other side.`,
        },
        label,
      );
    });
  const [left, right] = layout.labels as readonly [string, string];
  return [...missing(a, b, left), ...missing(b, a, right)];
}

/** The middle of what a channel carries, by its steps from sample to sample, Hz; 0 for silence. */
function pitchOf({ steps, power }: SignalBlocks, channel: number, sampleRate: number): number {
  const all = totalOf(power[channel]!);
  return all > 0
    ? (sampleRate / Math.PI) * Math.asin(Math.min(1, Math.sqrt(totalOf(steps[channel]!) / all) / 2))
    : 0;
}

/** Channels with nothing on them, and a bass channel that carries more than bass. */
export function wrongChannels(material: CheckMaterial, { bassHz }: Thresholds): Finding[] {
  const { layout, samplePeak, signal, sampleRate, seconds } = material;
  const { labels } = layout;
  const whole = { kind: 'channel', from: 0, to: seconds, whole: true, weight: 'look' } as const;
  const peaks = samplePeak.map((values) => amplitudeToDb(largest(values)) ?? -Infinity);
  if (labels.length < 3 || peaks.every((peak) => peak < NOTHING_DBFS)) return [];
  const silent = labels.flatMap((label, c) =>
    peaks[c]! >= NOTHING_DBFS || isBass(label)
      ? []
      : [
          finding(
            {
              ...{ ...whole, value: null, limit: NOTHING_DBFS, unit: 'dBFS' },
              sentence: `Channel ${label} is silent throughout.`,
            },
            label,
          ),
        ],
  );
  if (signal.steps.every(({ length }) => length === 0)) return silent;
  const centre = labels.findIndex((label) => label === 'C' || label === 'FC');
  const wrong = labels.flatMap((label, c) => {
    if (!isBass(label) || peaks[c]! < NOTHING_DBFS) return [];
    const value = pitchOf(signal, c, sampleRate);
    if (value <= bassHz) return [];
    const swapped = centre >= 0 && pitchOf(signal, centre, sampleRate) < bassHz;
    return [
      finding(
        {
          ...{ ...whole, value, limit: bassHz, unit: 'Hz' },
          sentence: `Channel ${label} carries far more than bass (around ${figure(value, 0)} Hz)${swapped ? `, and ${labels[centre]} only bass: the two look swapped` : ''}.`,
        },
        label,
      ),
    ];
  });
  return [...silent, ...wrong];
}

/** Whether two channels carry the same all through. */
function isMono({ signal, layout }: CheckMaterial): boolean {
  const [a, b] = signal.power;
  if (!a || !b || layout.labels.length !== 2) return false;
  const both = totalOf(a) + totalOf(b);
  const side = Math.max(0, both - 2 * totalOf(signal.product));
  // Single precision sums tell sides apart down to −50 dB.
  return both > 0 && side <= 1e-5 * both;
}

const monoFinding = ({ seconds }: CheckMaterial, weight: Finding['weight'], sentence: string): Finding =>
  finding({
    ...{ kind: 'mono', from: 0, to: seconds, whole: true, value: null, limit: null, unit: '' },
    ...{ weight, sentence },
  });

/** The same in two channels, which no target has to forbid to be worth a look. */
export const dualMono = (material: CheckMaterial): Finding[] =>
  isMono(material)
    ? [monoFinding(material, 'look', 'Both channels carry the same: it is mono in two channels.')]
    : [];

/** The same where the target asks for stereo. */
export function onlyMono(material: CheckMaterial, target: Target): Finding[] {
  const asked = target.layouts ?? [];
  const stereoAsked = asked.length > 0 && asked.every((one) => one.toLowerCase() !== 'mono');
  return stereoAsked && isMono(material)
    ? [monoFinding(material, 'breaks', 'Both channels carry the same: it is mono, and stereo is asked for.')]
    : [];
}
