import { wavChannels } from '@/core/audio/layout';
import { WHOLE_FIRST_SOUND } from '@/core/audio/soundChoice';
import { USUAL_THRESHOLDS } from '@/core/check/findings/thresholds';
import type { Target } from '@/core/check/target';
import type { Judged } from '@/core/check/verdict';
import { clippedNote, disagreement } from '@/core/loudness/agreement';
import { filmWords } from '@/core/deliver/filmWords';
import { statedOf } from '@/core/deliver/fileSaid';
import { KIND_NAMES } from '@/core/formats/probe';
import { loudnessBytes } from '@/core/formats/wav/bext';
import { correctionOf, type Correcting, type CorrectionWay } from '@/core/proposals/correction';
import { signed } from '@/core/text/figures';
import { safeName } from '@/core/text/safeName';
import { patched } from '@/engine/blobWriter';
import { replaceSoundOfFilm } from '@/engine/films';
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

const mendedName = (name: string, { gainDb, limiter }: Correcting, ending: string): string =>
  `${safeName(name.replace(/\.[^.]+$/, ''))} ${signed(gainDb, 2)} dB${limiter ? ' limited' : ''}${ending}`;

/** What a mended sound becomes: a copy of the film that it came from, or a file of its own. */
interface Finished {
  readonly blob: Blob;
  readonly ending: string;
  /** What is to be said of it, full sentences. */
  readonly said: readonly string[];
  readonly track: number;
  readonly clipped: number;
}

/** Kinds of file that may hold a picture. */
const FILMS: readonly string[] = [KIND_NAMES.mp4, KIND_NAMES.matroska];

/** Puts a mended sound back into the film that it came from; where there is no picture, it stays a file of its own. */
async function intoFilm(
  { file, track, checked }: AuditFile,
  sound: Blob,
  signal: AbortSignal,
  told: Told,
): Promise<Outcome<Finished>> {
  const alone: Finished = { blob: sound, ending: '.wav', said: [], track: 0, clipped: 0 };
  const { container, layout } = checked!.format;
  if (!FILMS.includes(container)) return { ok: alone };
  const film = await replaceSoundOfFilm(file, track, sound, layout, signal, (done) =>
    told('Copying the picture', done),
  );
  if ('failure' in film) {
    const { code, message, hint } = film.failure;
    if (code === 'noPicture') return { ok: alone };
    // The sound is there all the same.
    if (code === 'noFilm') return { ok: { ...alone, said: [`${message} It is saved as WAV. ${hint}`] } };
    return film;
  }
  if (!('ok' in film)) return film;
  const { blob, clippedSamples } = film.ok;
  return {
    ok: {
      ...{
        blob,
        ending: film.ok.ending ?? file.name.match(/\.[^.]+$/)?.[0] ?? '.mov',
        track,
        clipped: clippedSamples,
      },
      // It is as long as it was, and what was cut off is told with the rest.
      said: filmWords({ ...film.ok, clippedSamples: 0 }, film.ok.pictureSeconds),
    },
  };
}

/**
 * Writes a file anew so that it meets a target, and measures what was written. What meets it already is left alone.
 * @param kept what was measured of it
 */
export async function mendFile(
  of: AuditFile,
  kept: FileToCheck,
  target: Target,
  way: CorrectionWay,
  signal: AbortSignal,
  told: Told,
): Promise<MendOutcome> {
  const { file, track, layoutId, checked, exactPeakDbtp } = of;
  const { judged, format } = checked!;
  const opened = await measurePool().measureFile(file, signal, (done) => told('Reading', done), {
    ...WHOLE_FIRST_SOUND,
    track,
    layoutId,
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
  const finished = await intoFilm(of, written.ok.blob, signal, told);
  if (!('ok' in finished)) return finished;
  const { blob: made, ending, said } = finished.ok;
  const clippedSamples = written.ok.clippedSamples + finished.ok.clipped;
  const loudnessAt = made === written.ok.blob ? written.ok.loudnessAt : null;
  const measured = await measurePool().fileToCheck(
    made,
    signal,
    (done) => told('Measuring the corrected file', done),
    { ...WHOLE_FIRST_SOUND, track: finished.ok.track, as: wavChannels(format.layout).layout },
  );
  if (!('ok' in measured)) return measured;
  const { material } = measured.ok;
  // Speech is where it was, and what was not whole is not whole now.
  const integrity = [...kept.material.integrity, ...material.integrity];
  const spoken = { ...measured.ok, material: { ...material, speech: kept.material.speech, integrity } };
  const again = await measurePool().checkFile(spoken, [target], USUAL_THRESHOLDS, null, signal);
  if (!('ok' in again)) return again;
  const { figures } = material;
  // It says what it measures now, where it said what it measured before.
  const blob =
    loudnessAt === null ? made : patched(made, [{ at: loudnessAt, bytes: loudnessBytes(statedOf(figures)) }]);
  return {
    mended: {
      ...{ name: mendedName(file.name, given.ok, ending), blob, gainDb, limitedDb, figures },
      sentence: [sentence, ...said].join(' '),
      verdict: again.ok.check.verdicts[0]!,
      wrong: [clippedNote(clippedSamples), disagreement(predicted, figures)].filter((said) => said !== null),
    },
  };
}
