import type { AudioReader } from '@/core/audio/reader';
import { dialogueFigures } from '@/core/check/findings/speech';
import type { Target } from '@/core/check/target';
import { exactTruePeak } from '@/core/loudness/exactTruePeak';
import type { TimeRange } from '@/core/loudness/levelTrack';
import { measureReader } from '@/core/loudness/measureReader';
import { soundMeasurement, type SoundMeasurement } from '@/core/loudness/sound';
import { correctionOf, type Correcting, type CorrectionWay } from '@/core/proposals/correction';
import { measureLimited, solveLimited } from '@/core/proposals/limitedGain';
import { shaped, type Treatment } from './deliveredSound';

/** The mix as a file has it: in its layout, at its rate. */
function shapedReader(mix: AudioReader, treatment: Treatment): AudioReader {
  const sound = shaped(mix, treatment);
  if (sound === mix) return mix;
  return { format: { ...mix.format, ...sound.format }, read: (start, count) => sound.read(start, count) };
}

/** Measures the mix as a file has it. @param proceed see `measureReader` */
export async function measureMix(
  mix: AudioReader,
  treatment: Treatment,
  proceed: (done: number) => boolean | Promise<boolean>,
): Promise<SoundMeasurement | null> {
  const measured = await measureReader(shapedReader(mix, treatment), proceed);
  return measured && soundMeasurement(measured);
}

/**
 * Works out what brings the mix to a target in a file's layout and at its rate.
 * @param spoken when somebody speaks in it, seconds; empty where nothing says so
 * @returns a full sentence where nothing is given; `null` when stopped
 */
export async function correctMix(
  mix: AudioReader,
  treatment: Treatment,
  measured: SoundMeasurement,
  target: Target,
  way: CorrectionWay,
  spoken: readonly TimeRange[],
  proceed: (done: number) => boolean | Promise<boolean>,
): Promise<Correcting | string | null> {
  const reader = shapedReader(mix, treatment);
  const { frames, sampleRate } = reader.format;
  const seconds = frames / sampleRate;
  const speech = spoken.length > 0 ? spoken : null;
  const judged = {
    ...measured.figures,
    spoken: dialogueFigures({ ...measured, seconds, speech, apart: null }),
  };
  return correctionOf({ ...measured, seconds }, judged, target, way, {
    async exactPeak() {
      const exact = await exactTruePeak(reader, measured.truePeaks, proceed);
      return exact && { dbtp: exact.truePeakDbtp };
    },
    solve: (limiter, goalLufs, startDb) =>
      solveLimited(
        (gainDb, onDone) => measureLimited(reader, limiter, gainDb, onDone),
        goalLufs,
        startDb,
        Infinity,
        proceed,
      ),
  });
}
