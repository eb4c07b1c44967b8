import type { Target } from '@/core/check/target';
import { speechRules, verdictOf, type Judged } from '@/core/check/verdict';
import { figuresAfterGain, type LoudnessFigures, type Measured } from '@/core/loudness/figures';
import type { Limiter } from '@/core/programme/model';
import { SPEECH_AND_MUSIC } from '@/core/signal/limiter/presets';
import { signed, withUnit } from '@/core/text/figures';
import { exactPeakMatters } from './exactPeak';
import { fileGain, mendOf, nothingToLevel } from './fileGain';
import type { LimitedGain } from './limitedGain';
import { limiterSentences } from './limiterWords';

/** How a sound is corrected: by gain where that is enough; with a limiter behind it where it is not; as far as gain goes. */
export type CorrectionWay = 'gain' | 'limiter' | 'possible';

/** What is given to a sound so that it meets a target. */
export interface Correcting {
  readonly gainDb: number;
  /** Behind the gain. */
  readonly limiter: Limiter | null;
  /** The most that it takes off, dB; `null` without one. */
  readonly limitedDb: number | null;
  readonly predicted: LoudnessFigures;
  /** What is done, full sentences. */
  readonly sentence: string;
}

/** A sound as it is measured, with the length in seconds. */
type MeasuredSound = Measured & { readonly seconds: number };

/** What has to be worked out from its samples; each gives `null` when it was given up. */
export interface CorrectionWork {
  /** The true peak at 16 times the rate, dBTP. */
  readonly exactPeak: () => Promise<{ readonly dbtp: number | null } | null>;
  /** See `solveLimited`. */
  readonly solve: (limiter: Limiter, goalLufs: number, startDb: number) => Promise<LimitedGain | null>;
}

/**
 * Works out what brings a sound to a target. What meets it is left alone.
 * @param judged its figures, with what is known of speech and silence in it
 * @returns a full sentence where nothing is to be given; `null` when given up
 */
export async function correctionOf(
  sound: MeasuredSound,
  judged: Judged,
  target: Target,
  way: CorrectionWay,
  { exactPeak, solve }: CorrectionWork,
): Promise<Correcting | string | null> {
  const spoken = judged.spoken ?? null;
  // What is not whole may be levelled all the same; its verdict says that it is not.
  if (verdictOf({ ...judged, integrity: [] }, target).meets)
    return 'It meets the target as it is; it is left alone.';
  const rough = fileGain(sound, target, 'integrated', null, spoken);
  if (!rough) return mendOf(sound, target, null, spoken).sentence || nothingToLevel(sound);
  let exact: number | null = null;
  if (exactPeakMatters(rough.after.truePeakDbtp, target.maxTruePeakDbtp)) {
    const found = await exactPeak();
    if (!found) return null;
    exact = found.dbtp;
  }
  const mend = mendOf(sound, target, exact, spoken);
  if (mend.kind === 'gain' || (mend.kind === 'cannot' && way === 'possible' && mend.gainDb !== 0))
    return {
      ...{ gainDb: mend.gainDb, limiter: null, limitedDb: null, sentence: mend.sentence },
      predicted: figuresAfterGain(sound, mend.gainDb),
    };
  if (way !== 'limiter' || mend.kind !== 'cannot') return mend.sentence;
  if (speechRules(target, spoken))
    return `${mend.sentence} With a limiter it cannot be solved where a target goes by dialogue.`;
  if (fileGain(sound, target, 'integrated', exact, spoken)!.limitedBy !== 'ceiling')
    return `${mend.sentence} A limiter would not help with that.`;
  const limiter = { ...SPEECH_AND_MUSIC, ceilingDbtp: target.maxTruePeakDbtp };
  const solved = await solve(limiter, target.integratedLufs, rough.wantedDb);
  if (!solved) return null;
  const { gainDb, after, work } = solved;
  if (solved.fallsShort)
    return `Even with a limiter it comes to ${withUnit(after.integratedLufs, 'LUFS')} only: the limiter takes away what more gain gives.`;
  return {
    ...{ gainDb, limiter, limitedDb: work.maxReductionDb, predicted: after },
    sentence: [
      `${signed(gainDb, 2)} dB and a limiter bring it to ${withUnit(after.integratedLufs, 'LUFS')} with a true peak of ${withUnit(after.truePeakDbtp, 'dBTP')}.`,
      ...limiterSentences(limiter, solved, sound.seconds),
    ].join(' '),
  };
}
