import type { Clip, CurvePoint, Limiter, Project } from '@/core/programme/model';
import { figure, signed, withUnit } from '@/core/text/figures';
import { count } from '@/core/text/words';

/** What works on a track or on the whole programme. */
export interface BusProcessing {
  /** Name of the track; `null`: the whole programme. */
  readonly track: string | null;
  readonly steps: readonly string[];
}

const curveWords = (curve: readonly CurvePoint[]): string[] =>
  curve.length > 0 ? [`gain over time (${count(curve.length, 'point')})`] : [];

const limiterWords = (limiter: Limiter | null): string[] =>
  limiter && !limiter.bypassed ? [`limiter at ${withUnit(limiter.ceilingDbtp, 'dBTP')}`] : [];

const fadeWords = (name: string, frames: number, sampleRate: number): string[] =>
  frames > 0 ? [`${name} of ${figure(frames / sampleRate, 2)} s`] : [];

const balanceWords = (balance: number): string =>
  `balance ${figure(Math.abs(100 * balance), 0)} % ${balance < 0 ? 'left' : 'right'}`;

/** What works on a clip besides its gain, in the order in which it does, a few words each. */
export function clipProcessing(clip: Clip, sampleRate: number): string[] {
  const { trimDb, curve, fadeIn, fadeOut, channelDb, balance, balanceCurve, limiter } = clip;
  return [
    ...(trimDb === 0 ? [] : [`trim of ${signed(trimDb, 2)} dB`]),
    ...curveWords(curve),
    ...fadeWords('fade-in', fadeIn, sampleRate),
    ...fadeWords('fade-out', fadeOut, sampleRate),
    ...(channelDb.some((db) => db !== 0) ? ['gain by channel'] : []),
    ...(balanceCurve.length > 0 ? ['balance over time'] : balance === 0 ? [] : [balanceWords(balance)]),
    ...limiterWords(limiter),
  ];
}

/** What works on tracks and on the whole programme besides gain; those on which nothing does are left out. */
export function busProcessing({ tracks, curve, limiter }: Project): BusProcessing[] {
  const heard = tracks.filter(({ muted }) => !muted);
  return [
    ...heard.map((track) => ({
      track: track.name,
      steps: [...curveWords(track.curve), ...limiterWords(track.limiter)],
    })),
    { track: null, steps: [...curveWords(curve), ...limiterWords(limiter)] },
  ].filter(({ steps }) => steps.length > 0);
}
