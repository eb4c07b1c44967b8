import type { AudioReader } from '@/core/audio/reader';
import type { SoundChoice } from '@/core/audio/soundChoice';
import { measureLimited, solveLimited, type LimitedAt, type LimitedGain } from '@/core/proposals/limitedGain';
import { readLimiters } from '@/core/proposals/limiterFile';
import type { Limiter } from '@/core/programme/model';
import { SPEECH_AND_MUSIC } from '@/core/signal/limiter/presets';
import { limiterTiming } from '@/core/signal/limiter/timing';
import { FileError, readSideText } from './files';
import { readAgain, type Measured } from './measureFile';

const MOST_BYTES = 1_000_000;

/** How a limiter worked, as `--json` says it. */
export interface LimiterReport {
  readonly ceilingDbtp: number;
  readonly maxReductionDb: number;
  readonly workingSeconds: number;
}

/** The limiter that is asked for: the one that comes with the product, or the first of a file. Its ceiling is the target's, unless it keeps lower. */
export async function limiterFor(path: string | null, ceilingDbtp: number): Promise<Limiter> {
  const ceiled = (limiter: Limiter): Limiter => ({
    ...limiter,
    ceilingDbtp: path === null ? ceilingDbtp : Math.min(ceilingDbtp, limiter.ceilingDbtp),
  });
  if (path === null) return ceiled(SPEECH_AND_MUSIC);
  const text = await readSideText(path, MOST_BYTES, 'limiter preset');
  const found = readLimiters(text);
  if ('error' in found)
    throw new FileError('notALimiter', found.error, 'Export it from the limiter’s menu, as a file.');
  return ceiled(found[0]!);
}

/** Opens a sound to be read once, forward, while `use` runs. */
type WithSound = <T>(use: (reader: AudioReader) => Promise<T>) => Promise<T>;

/** Opens a measured file again and again, as often as it is asked for. */
export const withFileSound =
  (file: string, choice: SoundChoice, { format }: Measured, limiter: Limiter): WithSound =>
  (use) => {
    const { before, after } = limiterTiming(limiter, format.sampleRate);
    return readAgain(file, choice, format, (before + after) / format.sampleRate + 1, use);
  };

/**
 * What a file measures with a gain and a limiter behind it.
 * @param goalLufs the loudness that the gain is to reach; `null`: the gain is `startDb`
 */
export async function limitFile(
  withSound: WithSound,
  limiter: Limiter,
  goalLufs: number | null,
  startDb: number,
  onProgress: (done: number) => void,
): Promise<LimitedGain> {
  const proceed = (done: number): boolean => {
    onProgress(done);
    return true;
  };
  const at: LimitedAt = (gainDb, onDone) =>
    withSound((reader) => measureLimited(reader, limiter, gainDb, onDone));
  if (goalLufs !== null) return (await solveLimited(at, goalLufs, startDb, Infinity, proceed))!;
  return { ...(await at(startDb, proceed))!, gainDb: startDb, fallsShort: false };
}

export const limiterReport = (limiter: Limiter, { work }: LimitedGain): LimiterReport => ({
  ceilingDbtp: limiter.ceilingDbtp,
  maxReductionDb: work.maxReductionDb,
  workingSeconds: work.workingSeconds,
});
