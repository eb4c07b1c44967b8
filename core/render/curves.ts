import { dbToAmplitude } from '@/core/loudness/decibels';
import { curveDbAt, pointAfter, SILENT_DB } from '@/core/programme/curve';
import type { Clip, CurvePoint } from '@/core/programme/model';
import { applyFades, fadesWithin } from './fades';

type Shaped = Pick<Clip, 'length' | 'sourceStart' | 'fadeIn' | 'fadeOut' | 'curve'>;

/** Amplitude of a point of a curve; a silent one is nothing at all. */
export const curveAmplitude = (db: number): number => (db <= SILENT_DB ? 0 : dbToAmplitude(db));

/** Whether a curve is anything but flat at 0 dB in frames [from, to) of the source. */
function curveWithin(curve: readonly CurvePoint[], from: number, to: number): boolean {
  if (curve.length === 0) return false;
  if (curveDbAt(curve, from) !== 0 || curveDbAt(curve, to) !== 0) return true;
  for (let i = pointAfter(curve, from); i < curve.length && curve[i]!.at < to; i++)
    if (curve[i]!.db !== 0) return true;
  return false;
}

/**
 * Applies a gain curve to samples, in place: between two points the gain goes straight in dB. Each frame's gain depends on
 * its place alone, so that any piece fits its neighbours to the bit.
 * @param first frame of the source at which they begin
 */
function applyCurve(samples: readonly Float32Array[], curve: readonly CurvePoint[], first: number): void {
  const frames = samples[0]?.length ?? 0;
  let index = pointAfter(curve, first);
  for (let i = 0; i < frames;) {
    const before = curve[index - 1];
    const after = curve[index];
    const to = after ? Math.min(frames, Math.ceil(after.at - first)) : frames;
    const flat = !before || !after || before.db === after.db;
    if (flat) {
      const gain = curveAmplitude((before ?? after)!.db);
      if (gain !== 1) for (const channel of samples) for (let k = i; k < to; k++) channel[k]! *= gain;
    } else {
      const perFrame = (after.db - before.db) / (after.at - before.at);
      for (let k = i; k < to; k++) {
        const gain = curveAmplitude(before.db + perFrame * (first + k - before.at));
        for (const channel of samples) channel[k]! *= gain;
      }
    }
    i = to;
    index++;
  }
}

/** Whether a fade or the curve changes anything in frames [from, to) of a clip. */
export function shapedWithin(clip: Shaped, from: number, to: number): boolean {
  const { curve, sourceStart } = clip;
  return fadesWithin(clip, from, to) || curveWithin(curve, sourceStart + from, sourceStart + to);
}

/** Applies a clip's curve and its fades to its samples, in place. @param from frame of the clip at which they begin */
export function applyShape(samples: readonly Float32Array[], clip: Shaped, from: number): void {
  if (clip.curve.length > 0) applyCurve(samples, clip.curve, clip.sourceStart + from);
  applyFades(samples, clip, from);
}
