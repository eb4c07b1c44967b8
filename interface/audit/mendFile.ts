import { wavChannels } from '@/core/audio/layout';
import { WHOLE_FIRST_SOUND } from '@/core/audio/soundChoice';
import { USUAL_THRESHOLDS } from '@/core/check/findings/thresholds';
import type { Target } from '@/core/check/target';
import type { Judged } from '@/core/check/verdict';
import { clippedNote, disagreement } from '@/core/loudness/agreement';
import { statedOf } from '@/core/deliver/fileSaid';
import { loudnessBytes } from '@/core/formats/wav/bext';
import { correctionOf, type Correcting, type CorrectionWay } from '@/core/proposals/correction';
import { signed } from '@/core/text/figures';
import { safeName } from '@/core/text/safeName';
import { patched } from '@/engine/blobWriter';
import { measurePool } from '@/engine/measurePool';
import { applyGainToFile, limitFile } from '@/engine/programmeEngine';
import type { Failure, FileToCheck, Outcome } from '@/engine/protocol';
import type { AuditFile } from './auditFile';
import type { MendedFile } from './mended';

/** What became of a file that was to be mended. */
export type MendOutcome =
  | { readonly mended: MendedFile }
  /** It stays as it is. @param why a full sentence */
  | { readonly left: string }
  | { readonly failure: Failure }
  | { readonly cancelled: true };

type Told = (label: string, done: number) => void;

/** Works out what to give; a sentence where nothing is to be given. */
async function give(
  pcm: Blob,
  { material }: FileToCheck,
  judged: Judged,
  known: number | null,
  target: Target,
  way: CorrectionWay,
  signal: AbortSignal,
  told: Told,
): Promise<Outcome<Correcting | string>> {
  let stopped: Exclude<Outcome<never>, { ok: unknown }> | null = null;
  const found = await correctionOf(material, judged, target, way, {
    async exactPeak() {
      if (known !== null) return { dbtp: known };
      const exact = await measurePool().exactPeak(pcm, material.truePeaks, signal, (done) =>
        told('Finding the exact true peak', done),
      );
      if ('ok' in exact) return { dbtp: exact.ok.truePeakDbtp };
      stopped = exact;
      return null;
    },
    async solve(limiter, goalLufs, startDb) {
      const solved = await limitFile(pcm, limiter, goalLufs, startDb, signal, (done) =>
        told('Working out the gain with a limiter', done),
      );
      if ('ok' in solved) return solved.ok;
      stopped = solved;
      return null;
    },
  });
  return found === null ? (stopped ?? { cancelled: true }) : { ok: found };
}

const mendedName = (name: string, { gainDb, limiter }: Correcting): string =>
  `${safeName(name.replace(/\.[^.]+$/, ''))} ${signed(gainDb, 2)} dB${limiter ? ' limited' : ''}.wav`;

/**
 * Writes a file anew so that it meets a target, and measures what was written. What meets it already is left alone.
 * @param kept what was measured of it
 */
export async function mendFile(
  { file, track, checked, exactPeakDbtp }: AuditFile,
  kept: FileToCheck,
  target: Target,
  way: CorrectionWay,
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
  const { clippedSamples, loudnessAt } = written.ok;
  const measured = await measurePool().fileToCheck(
    written.ok.blob,
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
  // It says what it measures now, where it said what it measured before.
  const blob =
    loudnessAt === null
      ? written.ok.blob
      : patched(written.ok.blob, [{ at: loudnessAt, bytes: loudnessBytes(statedOf(figures)) }]);
  return {
    mended: {
      ...{ name: mendedName(file.name, given.ok), blob, gainDb, limitedDb, figures, sentence },
      verdict: again.ok.check.verdicts[0]!,
      wrong: [clippedNote(clippedSamples), disagreement(predicted, figures)].filter((said) => said !== null),
    },
  };
}
