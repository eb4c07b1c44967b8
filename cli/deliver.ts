import { join } from 'node:path';
import { soundWriter } from '@/codecs/write/soundWriter';
import { programmeLayout, wavChannels } from '@/core/audio/layout';
import { withFaults, type IntegrityFault } from '@/core/audio/integrity';
import type { SoundWriter } from '@/core/audio/soundWriter';
import { WHOLE_FIRST_SOUND } from '@/core/audio/soundChoice';
import { dialogueFigures } from '@/core/check/findings/speech';
import { OUTCOME_WORDS, verdictOf } from '@/core/check/verdict';
import { verdictReport, type VerdictReport } from '@/core/check/fileCheck';
import { correctMix, measureMix } from '@/core/deliver/correctMix';
import { NOTHING_GIVEN, type Given } from '@/core/deliver/deliveredSound';
import { deliveryFault, filesOf, sameNames, type DeliveryFile } from '@/core/deliver/deliveryFiles';
import { readDeliveries } from '@/core/deliver/deliverySet';
import { deliveryWords } from '@/core/deliver/deliveryWords';
import { fileSaid, saysLoudness } from '@/core/deliver/fileSaid';
import { mixSounds, WHOLE_MIX } from '@/core/deliver/mixSounds';
import { asksTheMix, bySpan, saidLufsOf, treatmentOf, wayOf } from '@/core/deliver/passes';
import { produceFiles, type FileFate, type FileTask, type Produced } from '@/core/deliver/produce';
import { isLossy } from '@/core/deliver/fileKinds';
import { clippedNote, disagreement } from '@/core/loudness/agreement';
import { proofOf, speechInFile } from '@/core/deliver/proof';
import { passSounds, type PassSound } from '@/core/deliver/passSounds';
import { stemSets, type StemSum } from '@/core/deliver/stemSum';
import { figuresOf, type LoudnessFigures } from '@/core/loudness/figures';
import { weightedEnergy } from '@/core/loudness/subBlocks';
import { dialogueRanges } from '@/core/programme/dialogue';
import { isStems, type Delivery } from '@/core/programme/delivery';
import type { Project, Role } from '@/core/programme/model';
import { dateText, timeText } from '@/core/text/dates';
import { withUnit } from '@/core/text/figures';
import { withRoles } from './carryOut';
import { failed } from './failed';
import { FileError, readSideText, trouble } from './files';
import { contentOf, mediaIn } from './gather';
import { measureFile, type Measured } from './measureFile';
import { MediaShelf } from './media';
import { checkOutput, replacedNotes, SOUND_ENDINGS, writeWhole, type FileSink, type Output } from './output';
import { placedProject, type CutAndMedia } from './placedCut';
import { openPool, type TaskPool } from './pool';
import { ProgressLine } from './progress';
import { say, sayJson, shown } from './say';
import { stateLoudness } from './stateLoudness';

export interface DeliverOptions extends CutAndMedia {
  readonly deliveries: string;
  /** Folder that the files go to. */
  readonly out: string;
  readonly roles: ReadonlyMap<string, Role>;
  readonly keepExisting: boolean;
  readonly json: boolean;
  readonly jobs: number;
}

/** A delivered file as it is reported. */
interface HandedFile {
  readonly file: string;
  readonly delivery: string;
  readonly sha256: string;
  readonly predicted: LoudnessFigures;
  /** Measured from the file. */
  readonly figures: LoudnessFigures;
  /** `null` where it has no target, or is a part of the mix. */
  readonly verdict: VerdictReport | null;
  readonly gainDb: number;
  readonly corrected: string | null;
  /** That the stems of its delivery add up to the mix, a full sentence; `null` where it is none of them. */
  readonly sum: string | null;
  /** Whether the file measures as predicted, without clipped samples. */
  readonly asPredicted: boolean;
  readonly notes: readonly string[];
}

type FileResult =
  HandedFile | { readonly file: string; readonly error: { readonly message: string; readonly hint: string } };

/** What is given to a file, and what it will measure where that is known. */
interface GivenTo extends Given {
  readonly corrected: string | null;
  readonly predicted: LoudnessFigures | null;
}

const PLAIN: GivenTo = { ...NOTHING_GIVEN, corrected: null, predicted: null };

const always = (): boolean => true;

const MOST_LIST_BYTES = 4_000_000;

async function deliveriesIn(file: string): Promise<readonly Delivery[]> {
  const text = await readSideText(file, MOST_LIST_BYTES, 'list of deliveries');
  const read = readDeliveries(text);
  if (!('error' in read)) return read.deliveries;
  throw new FileError(
    'notDeliveries',
    `${shown(file)}: ${read.error}`,
    'Save a set of deliveries as a file in Handover, and begin from that.',
  );
}

/** The files that deliveries come to. @throws FileError where one of them cannot be written so */
function plannedFiles(project: Project, deliveries: readonly Delivery[]): readonly DeliveryFile[] {
  for (const delivery of deliveries) {
    const fault = deliveryFault(project, delivery);
    if (fault) throw new FileError('cannotDeliver', `${delivery.pattern}: ${fault}`, 'Change that delivery.');
  }
  const files = deliveries.flatMap((delivery) => filesOf(project, delivery, dateText(new Date())));
  const [same] = sameNames(files);
  if (same === undefined) return files;
  throw new FileError(
    'sameName',
    `Two files would be called ${shown(same)}.`,
    'Put a field that tells them apart into the name, such as {target}, {role} or {number}.',
  );
}

/** A file on its way: its writer waits until all files of its pass can be written, and its place until it is proved. */
class Handing {
  private sink: ((sink: FileSink) => void) | null = null;
  private made: ((fate: FileFate) => void) | null = null;
  private readonly opened = new Promise<FileSink>((resolve) => (this.sink = resolve));
  private readonly fate = new Promise<FileFate>((resolve) => (this.made = resolve));
  private loudnessAt: number | null = null;
  private sum: StemSum | null = null;

  constructor(
    private readonly project: Project,
    readonly file: DeliveryFile,
    private readonly output: Output,
    private readonly given: GivenTo,
    private readonly pool: TaskPool,
    /** Why the programme cannot be certified. */
    private readonly integrity: readonly IntegrityFault[],
  ) {}

  task({ sound, sum }: PassSound): FileTask {
    const { delivery } = this.file;
    this.sum = sum;
    return {
      ...{ key: this.file.key, sound },
      heard: sum ? (samples, at) => sum.take(samples, at) : undefined,
      open: async (): Promise<SoundWriter> => {
        const sink = await this.opened;
        const { sampleRate, layout, frames } = sound.format;
        const writer = await soundWriter(
          {
            ...{ format: delivery.format, sampleRate, layout, frames, texts: delivery.texts },
            metadata: fileSaid(this.project, this.file, timeText(new Date())),
            saidLufs: saidLufsOf(this.file, this.given.predicted),
          },
          (bytes, at) => sink(bytes, at),
        );
        this.loudnessAt = writer.loudnessAt ?? null;
        return writer;
      },
    };
  }

  end(fate: FileFate): void {
    this.made!(fate);
  }

  /** Writes it as it is made, reads it back, and puts it in its place. */
  async hand(): Promise<FileResult> {
    const name = this.output.named;
    try {
      let produced: Produced | null = null;
      return await writeWhole(
        this.output,
        async (sink) => {
          this.sink!(sink);
          const fate = await this.fate;
          if ('error' in fate) throw fate.error;
          if ('ok' in fate) produced = fate.ok;
        },
        (part) => this.proved(part, produced!),
      );
    } catch (error) {
      const { message, hint } = trouble(error);
      return { file: name, error: { message, hint } };
    }
  }

  private async proved(part: string, produced: Produced): Promise<HandedFile> {
    const { file, given, project, output } = this;
    const { delivery } = file;
    const layout = programmeLayout(delivery.layoutId ?? project.layoutId);
    const as = wavChannels(layout).layout;
    const sound = await measureFile(part, { ...WHOLE_FIRST_SOUND, as }, this.pool, () => undefined);
    const figures = figuresOf(sound.measured.history);
    // Nothing is known before it is made here, so all of it was measured.
    const predicted = given.predicted ?? produced.predicted!;
    const { clippedSamples } = produced;
    const { wrong, codecOver, sum } = proofOf(delivery, {
      ...{ predicted, file: figures, clippedSamples },
      sum: this.sum?.result ?? null,
    });
    const clipped = clippedNote(clippedSamples);
    if (!isLossy(delivery.format) && disagreement(predicted, figures))
      throw new FileError(
        clipped ? 'clipped' : 'notAsPredicted',
        `${wrong.join(' ')} No file was written.`,
        clipped ? 'Lower the level, or deliver float.' : 'Report this as a defect.',
      );
    if (this.loudnessAt !== null && saysLoudness(file)) {
      await stateLoudness(part, this.loudnessAt, figures);
    }
    return {
      ...{ file: output.named, delivery: deliveryWords(project, delivery), sha256: await contentOf(part) },
      ...{ predicted, figures, gainDb: given.gainDb, corrected: given.corrected, sum },
      verdict: this.verdict(sound, figures),
      asPredicted: wrong.length === 0,
      notes: [...wrong, ...(codecOver ? [codecOver] : []), ...replacedNotes(output)],
    };
  }

  private verdict({ measured, format }: Measured, figures: LoudnessFigures): VerdictReport | null {
    const { delivery } = this.file;
    const { target } = delivery;
    if (!target || isStems(delivery)) return null;
    const speech = speechInFile(dialogueRanges(this.project), this.file, this.project.sampleRate);
    const { sampleRate, frames } = measured.history;
    const spoken = dialogueFigures({
      ...{ energy: weightedEnergy(measured.history), sampleRate, seconds: frames / sampleRate },
      ...{ speech: speech.length > 0 ? speech : null, apart: null },
    });
    const integrity = [...this.integrity, ...format.integrity];
    return verdictReport(verdictOf({ ...figures, spoken, integrity }, target), target);
  }
}

/** Works out what is given to the files of a span; the same is worked out once. */
async function givenTo(
  project: Project,
  files: readonly DeliveryFile[],
  shelf: MediaShelf,
): Promise<ReadonlyMap<string, GivenTo>> {
  const given = new Map<string, GivenTo>();
  const known = new Map<string, GivenTo>();
  for (const file of files.filter(asksTheMix)) {
    const { delivery, from, to } = file;
    const target = delivery.correction === 'none' ? null : delivery.target;
    const way = wayOf(file);
    const key = JSON.stringify([delivery.layoutId, delivery.sampleRate, target, way]);
    let found = known.get(key);
    if (!found) {
      const [mix] = mixSounds(project, shelf.open, from, to, [WHOLE_MIX]);
      const reader = {
        ...mix!,
        format: {
          ...{ container: 'mix', codec: 'float', bitDepth: 32, ...withFaults([]), metadata: null },
          ...mix!.format,
        },
      };
      const treatment = treatmentOf(file);
      const measured = (await measureMix(reader, treatment, always))!;
      const speech = speechInFile(
        dialogueRanges(project),
        { ...file, delivery: { ...delivery, headSeconds: 0 } },
        project.sampleRate,
      );
      const correction =
        target && (await correctMix(reader, treatment, measured, target, way, speech, always));
      found =
        correction && typeof correction !== 'string'
          ? { ...correction, corrected: correction.sentence }
          : { ...PLAIN, corrected: correction, predicted: measured.figures };
      known.set(key, found);
    }
    given.set(file.key, isStems(delivery) ? { ...found, predicted: null } : found);
  }
  return given;
}

async function deliver(
  options: DeliverOptions,
  pool: TaskPool,
  shelf: MediaShelf,
  /** @param files how many there are @returns the progress callback for each of them, `done` from 0 to 1 */
  begin: (files: number) => (file: string, done: number) => void,
) {
  const walked = await mediaIn(options.media);
  const deliveries = await deliveriesIn(options.deliveries);
  const placed = await placedProject(options, walked, shelf);
  const project = withRoles(placed.project, options.roles);
  const files = plannedFiles(project, deliveries);
  const inputs = [options.cut, options.deliveries, ...walked.files];
  const outputs = new Map<string, Output>();
  for (const { key, name } of files)
    outputs.set(
      key,
      await checkOutput(join(options.out, name), {
        ...{ inputs, keepExisting: options.keepExisting },
        endings: SOUND_ENDINGS,
      }),
    );
  const results: FileResult[] = [];
  const progress = begin(files.length);
  for (const group of bySpan(files)) {
    const given = await givenTo(project, group, shelf);
    const handings = group.map(
      (file) =>
        new Handing(
          project,
          file,
          outputs.get(file.key)!,
          given.get(file.key) ?? PLAIN,
          pool,
          placed.integrity,
        ),
    );
    const { from, to } = group[0]!;
    const sets = stemSets(project, group);
    const sounds = passSounds(
      ...([project, shelf.open, { from, to }] as const),
      group.map((file) => ({
        ...{ clipIds: file.clipIds, treatment: treatmentOf(file), given: given.get(file.key) ?? PLAIN },
        set: sets.find(({ keys }) => keys.has(file.key))?.id ?? null,
      })),
    );
    const tasks = handings.map((handing, i) => handing.task(sounds[i]!));
    const handed = handings.map((handing) => handing.hand());
    const fates = await produceFiles(tasks, always, (done) => {
      for (const { file } of handings) progress(file.name, done.get(file.key) ?? 0);
      return true;
    });
    for (const handing of handings) handing.end(fates!.get(handing.file.key)!);
    results.push(...(await Promise.all(handed)));
  }
  const { missing, ambiguous, warnings, integrity } = placed;
  const reasons = integrity.map(({ sentence }) => sentence);
  return { cut: options.cut, files: results, missing, ambiguous, warnings, integrity: reasons };
}

function line(result: FileResult): string {
  if ('error' in result) return `${shown(result.file)}  fails: ${result.error.message} ${result.error.hint}`;
  const { file, figures, verdict, corrected, sum, notes, sha256 } = result;
  const judged = verdict ? OUTCOME_WORDS[verdict.outcome].toLowerCase() : 'measured';
  return [
    `${shown(file)}  ${judged}: ${withUnit(figures.integratedLufs, 'LUFS')}, ${withUnit(figures.truePeakDbtp, 'dBTP')}`,
    ...(corrected ? [`  ${corrected}`] : []),
    ...(sum ? [`  ${sum}`] : []),
    `  SHA-256 ${sha256}`,
    ...notes.map((note) => `  ! ${note}`),
  ].join('\n');
}

/** `dengung deliver`. @returns the exit code: 1 unless all files are written, whole, as predicted, and meet their targets */
export async function deliverCommand(options: DeliverOptions): Promise<number> {
  const pool = openPool(options.jobs);
  const shelf = new MediaShelf(pool);
  let bar: ProgressLine | null = null;
  try {
    const report = await deliver(options, pool, shelf, (count) => {
      const line = (bar = new ProgressLine(count));
      return (file, done) => line.at(file, done);
    }).finally(() => bar?.end());
    const { files, missing, ambiguous, warnings } = report;
    if (options.json) sayJson(report);
    else
      say(
        [
          ...files.map(line),
          ...missing.map((name) => `  ! Missing: ${shown(name)}`),
          ...ambiguous.map(({ name }) => `  ! Not taken, as several files could be it: ${shown(name)}`),
          ...warnings.map((warning) => `  ! ${warning}`),
        ].join('\n'),
      );
    const good = files.every(
      (file) =>
        !('error' in file) && file.asPredicted && (file.verdict === null || file.verdict.outcome === 'meets'),
    );
    return good && report.integrity.length === 0 ? 0 : 1;
  } catch (error) {
    return failed(error, options.json, { cut: options.cut });
  } finally {
    await shelf.close();
    await pool.close();
  }
}
