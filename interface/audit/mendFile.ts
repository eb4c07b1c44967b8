import { wavChannels } from '@/core/audio/layout';
import { WHOLE_FIRST_SOUND } from '@/core/audio/soundChoice';
import { USUAL_THRESHOLDS } from '@/core/check/findings/thresholds';
import type { Target } from '@/core/check/target';
import { speechRules, verdictOf, type Judged } from '@/core/check/verdict';
import { clippedNote, disagreement } from '@/core/loudness/agreement';
import { figuresAfterGain, type LoudnessFigures } from '@/core/loudness/figures';
import { exactPeakMatters } from '@/core/proposals/exactPeak';
import { fileGain, mendOf, nothingToLevel } from '@/core/proposals/fileGain';
import { limiterSentences } from '@/core/proposals/limiterWords';
import { SPEECH_AND_MUSIC } from '@/core/signal/limiter/presets';
import { signed, withUnit } from '@/core/text/figures';
import { measurePool } from '@/engine/measurePool';
import { applyGainToFile, limitFile } from '@/engine/programmeEngine';
import type { Failure, FileToCheck, Outcome } from '@/engine/protocol';
import { fileName } from '../ui/saveBlob';
import type { AuditFile } from './auditFile';
import type { MendedFile } from './mended';

/** How a file is mended: by gain where that is enough; with a limiter behind it where it is not; as far as gain goes. */
export type MendWay = 'gain' | 'limiter' | 'possible';

/** What became of a file that was to be mended. */
export type MendOutcome =
  | { readonly mended: MendedFile }
  /** It stays as it is. @param why a full sentence */
  | { readonly left: string }
  | { readonly failure: Failure }
  | { readonly cancelled: true };

/** What is given to a file. */
interface Given {
  readonly gainDb: number;
  readonly limiter: typeof SPEECH_AND_MUSIC | null;
  readonly limitedDb: number | null;
  readonly predicted: LoudnessFigures;
  readonly sentence: string;
}

type Told = (label: string, done: number) => void;

/** Works out what to give; a sentence where nothing is to be given. */
async function give(
  pcm: Blob,
  { material }: FileToCheck,
  judged: Judged,
  known: number | null,
  target: Target,
  way: MendWay,
  signal: AbortSignal,
  told: Told,
): Promise<Outcome<Given | string>> {
  const spoken = judged.spoken ?? null;
  if (verdictOf(judged, target).meets) return { ok: 'It meets the target as it is; it is left alone.' };
  const rough = fileGain(material, target, 'integrated', null, spoken);
  if (!rough) return { ok: mendOf(material, target, null, spoken).sentence || nothingToLevel(material) };
  let exact = known;
  if (exact === null && exactPeakMatters(rough.after.truePeakDbtp, target.maxTruePeakDbtp)) {
    const found = await measurePool().exactPeak(pcm, material.truePeaks, signal, (done) =>
      told('Finding the exact true peak', done),
    );
    if (!('ok' in found)) return found;
    exact = found.ok.truePeakDbtp;
  }
  const mend = mendOf(material, target, exact, spoken);
  const byGain = (): Given => ({
    ...{ gainDb: mend.gainDb, limiter: null, limitedDb: null, sentence: mend.sentence },
    predicted: figuresAfterGain(material, mend.gainDb),
  });
  if (mend.kind === 'gain' || (mend.kind === 'cannot' && way === 'possible' && mend.gainDb !== 0))
    return { ok: byGain() };
  if (way !== 'limiter' || mend.kind !== 'cannot') return { ok: mend.sentence };
  if (speechRules(target, spoken))
    return { ok: `${mend.sentence} With a limiter it cannot be solved where a target goes by dialogue.` };
  if (fileGain(material, target, 'integrated', exact, spoken)!.limitedBy !== 'ceiling')
    return { ok: `${mend.sentence} A limiter would not help with that.` };
  const limiter = { ...SPEECH_AND_MUSIC, ceilingDbtp: target.maxTruePeakDbtp };
  const solved = await limitFile(pcm, limiter, target.integratedLufs, rough.wantedDb, signal, (done) =>
    told('Working out the gain with a limiter', done),
  );
  if (!('ok' in solved)) return solved;
  const { gainDb, after, work } = solved.ok;
  if (solved.ok.fallsShort)
    return {
      ok: `Even with a limiter it comes to ${withUnit(after.integratedLufs, 'LUFS')} only: the limiter takes away what more gain gives.`,
    };
  return {
    ok: {
      ...{ gainDb, limiter, limitedDb: work.maxReductionDb, predicted: after },
      sentence: [
        `${signed(gainDb, 2)} dB and a limiter bring it to ${withUnit(after.integratedLufs, 'LUFS')} with a true peak of ${withUnit(after.truePeakDbtp, 'dBTP')}.`,
        ...limiterSentences(limiter, solved.ok, material.seconds),
      ].join(' '),
    },
  };
}

const mendedName = (name: string, { gainDb, limiter }: Given): string =>
  `${fileName(name.replace(/\.[^.]+$/, ''))} ${signed(gainDb, 2)} dB${limiter ? ' limited' : ''}.wav`;

/**
 * Writes a file anew so that it meets a target, and measures what was written. What meets it already is left alone.
 * @param kept what was measured of it
 */
export async function mendFile(
  { file, track, checked, exactPeakDbtp }: AuditFile,
  kept: FileToCheck,
  target: Target,
  way: MendWay,
  signal: AbortSignal,
  told: Told,
): Promise<MendOutcome> {
  const { judged, format } = checked!;
  const opened = await measurePool().measureFile(file, signal, (done) => told('Reading', done), {
    ...WHOLE_FIRST_SOUND,
    track,
  });
  if (!('ok' in opened)) return opened;
  const { pcm } = opened.ok;
  const given = await give(pcm, kept, judged, exactPeakDbtp, target, way, signal, told);
  if (!('ok' in given)) return given;
  if (typeof given.ok === 'string') return { left: given.ok };
  const { gainDb, limiter, limitedDb, predicted, sentence } = given.ok;
  const depth = (format.bitDepth ?? 24) > 24 ? 'f32' : 's24';
  const written = await applyGainToFile(pcm, gainDb, limiter, depth, signal, (done) =>
    told('Writing the corrected file', done),
  );
  if (!('ok' in written)) return written;
  const { blob, clippedSamples } = written.ok;
  const measured = await measurePool().fileToCheck(
    blob,
    signal,
    (done) => told('Measuring the corrected file', done),
    { ...WHOLE_FIRST_SOUND, as: wavChannels(format.layout).layout },
  );
  if (!('ok' in measured)) return measured;
  // Speech is where it was.
  const spoken = { ...measured.ok, material: { ...measured.ok.material, speech: kept.material.speech } };
  const again = await measurePool().checkFile(spoken, [target], USUAL_THRESHOLDS, null, signal);
  if (!('ok' in again)) return again;
  const { figures } = measured.ok.material;
  return {
    mended: {
      ...{ name: mendedName(file.name, given.ok), blob, gainDb, limitedDb, figures, sentence },
      verdict: again.ok.check.verdicts[0]!,
      wrong: [clippedNote(clippedSamples), disagreement(predicted, figures)].filter((said) => said !== null),
    },
  };
}
