import { correctsItself, type DeliveryFile } from '@/core/deliver/deliveryFiles';
import { NOTHING_GIVEN, type Given } from '@/core/deliver/deliveredSound';
import { fileSaid } from '@/core/deliver/fileSaid';
import { asksTheMix, bySpan, isPlain, saidLufsOf, treatmentOf, wayOf } from '@/core/deliver/passes';
import { speechInFile } from '@/core/deliver/proof';
import { stemSets } from '@/core/deliver/stemSum';
import type { LoudnessFigures } from '@/core/loudness/figures';
import { dialogueRanges } from '@/core/programme/dialogue';
import { isStems } from '@/core/programme/delivery';
import type { Project } from '@/core/programme/model';
import type { DeliverEngine } from '@/engine/deliverEngine';
import type { WriteTask, WrittenBlob } from '@/engine/deliverProtocol';
import type { Failure, Outcome } from '@/engine/protocol';
import { readBack } from './readBack';
import type { DeliveredFile, FileLine, LinePhase, MeasuredFile } from './fileLine';

/** What a run tells of its files, and is told of them. */
export interface RunContext {
  readonly engine: DeliverEngine;
  readonly project: Project;
  /** What the whole of it measures, as it is. */
  readonly programme: LoudnessFigures | null;
  /** Local time as “2026-01-31 21:04:00”. */
  readonly now: () => string;
  /** Given up as a whole. */
  readonly signal: AbortSignal;
  /** Given up alone. */
  readonly signalOf: (key: string) => AbortSignal;
  readonly phase: (key: string, state: LinePhase, done: number) => void;
  /** It was read back; its checksum is still to come. */
  readonly measured: (key: string, measured: MeasuredFile) => void;
  readonly end: (key: string, end: Pick<FileLine, 'state'> & Partial<FileLine>) => void;
  /** Takes a file that is finished; it ends once that is saved. */
  readonly finished: (file: DeliveryFile, result: DeliveredFile) => void;
}

/** What is given to a file, in words as well. */
interface GivenTo extends Given {
  readonly corrected: string | null;
  /** What it will measure; `null` where that is not known before. */
  readonly predicted: LoudnessFigures | null;
}

const PLAIN: GivenTo = { ...NOTHING_GIVEN, corrected: null, predicted: null };

/** Makes files, reads each back and hands it on as soon as it is proved. */
export class DeliveryRun {
  private readonly spoken;
  private readonly reading: Promise<void>[] = [];
  private readonly known = new Map<string, Promise<Outcome<GivenTo>>>();

  constructor(private readonly context: RunContext) {
    this.spoken = dialogueRanges(context.project);
  }

  async start(files: readonly DeliveryFile[]): Promise<void> {
    for (const group of bySpan(files)) {
      if (this.context.signal.aborted) break;
      await this.group(this.wanted(group));
    }
    await Promise.all(this.reading);
  }

  private wanted(files: readonly DeliveryFile[]): readonly DeliveryFile[] {
    return files.filter(({ key }) => !this.context.signalOf(key).aborted);
  }

  private fail(files: readonly DeliveryFile[], outcome: Exclude<Outcome<unknown>, { ok: unknown }>): void {
    for (const { key } of files)
      this.context.end(key, 'failure' in outcome ? failed(outcome.failure) : { state: 'cancelled' });
  }

  /** Files of one span: the mix is kept where something has to be worked out from it. */
  private async group(files: readonly DeliveryFile[]): Promise<void> {
    const { engine, signal, phase } = this.context;
    const [first] = files;
    if (!first) return;
    const asking = files.filter(asksTheMix);
    let mix: Blob | null = null;
    if (asking.length > 0) {
      const kept = await engine.keepMix(first.from, first.to, signal, (done) =>
        asking.forEach(({ key }) => phase(key, 'mixing', done / 2)),
      );
      if (!('ok' in kept)) return this.fail(files, kept);
      mix = kept.ok;
    }
    const given = new Map<string, GivenTo>();
    for (const file of this.wanted(asking)) {
      const worked = await this.given(file, mix!);
      if ('ok' in worked) given.set(file.key, worked.ok);
      else this.fail([file], worked);
    }
    // What goes from the mix that is kept, and what is rendered anew: the parts of the mix, in one pass.
    const ready = this.wanted(files).filter((file) => !asksTheMix(file) || given.has(file.key));
    await this.pass(
      ready.filter((file) => mix !== null && file.clipIds === null),
      given,
      mix,
    );
    await this.pass(
      ready.filter((file) => mix === null || file.clipIds !== null),
      given,
      null,
    );
  }

  /** What is given to a file; the same is worked out once. */
  private given(file: DeliveryFile, mix: Blob): Promise<Outcome<GivenTo>> {
    const { delivery, from, to } = file;
    const way = wayOf(file);
    const key = JSON.stringify([from, to, delivery.layoutId, delivery.sampleRate, delivery.target, way]);
    const known = this.known.get(key) ?? this.workOut(file, mix);
    this.known.set(key, known);
    return known;
  }

  private async workOut(file: DeliveryFile, mix: Blob): Promise<Outcome<GivenTo>> {
    const { engine, project, signal, phase } = this.context;
    const { delivery } = file;
    const target = delivery.correction === 'none' ? null : delivery.target;
    const way = wayOf(file);
    const speech = speechInFile(
      this.spoken,
      { ...file, delivery: { ...delivery, headSeconds: 0 } },
      project.sampleRate,
    );
    const worked = await engine.correct(mix, treatmentOf(file), target, way, speech, signal, (done) =>
      phase(file.key, 'mixing', 0.5 + done / 2),
    );
    if (!('ok' in worked)) return worked;
    const { before, correction } = worked.ok;
    if (typeof correction === 'string')
      return {
        ok: { ...PLAIN, corrected: target ? correction : null, predicted: isStems(delivery) ? null : before },
      };
    const { gainDb, limiter, sentence, predicted } = correction;
    const words = correctsItself(file) ? sentence : `As the programme: ${sentence}`;
    return { ok: { gainDb, limiter, corrected: words, predicted: isStems(delivery) ? null : predicted } };
  }

  /** What a file will measure, where that is known before it is written. */
  private knownOf(file: DeliveryFile, predicted: LoudnessFigures | null): LoudnessFigures | null {
    return predicted ?? (isPlain(file) ? this.context.programme : null);
  }

  /** Writes files in one pass, and has each read back while others are made. */
  private async pass(
    files: readonly DeliveryFile[],
    given: ReadonlyMap<string, GivenTo>,
    mix: Blob | null,
  ): Promise<void> {
    const { engine, project, signal, phase, now } = this.context;
    const [first] = files;
    if (!first) return;
    const sets = stemSets(project, files);
    const tasks = files.map((file): WriteTask => {
      const { delivery } = file;
      const { gainDb, limiter, predicted } = given.get(file.key) ?? PLAIN;
      return {
        ...{ key: file.key, clipIds: file.clipIds, treatment: treatmentOf(file), given: { gainDb, limiter } },
        set: sets.find(({ keys }) => keys.has(file.key))?.id ?? null,
        known: this.knownOf(file, predicted) !== null,
        written: {
          ...{ format: delivery.format, texts: delivery.texts, metadata: fileSaid(project, file, now()) },
          saidLufs: saidLufsOf(file, predicted),
        },
      };
    });
    const fates = await engine.write(tasks, mix, first.from, first.to, signal, (key, done) => {
      if (!this.context.signalOf(key).aborted) phase(key, 'rendering', done);
    });
    if (!('ok' in fates)) return this.fail(files, fates);
    for (const file of files) {
      const fate = fates.ok.get(file.key)!;
      if (!('ok' in fate)) this.fail([file], fate);
      else this.reading.push(this.prove(file, fate.ok, given.get(file.key) ?? PLAIN));
    }
  }

  private async prove(
    file: DeliveryFile,
    written: WrittenBlob,
    { corrected, gainDb, predicted }: GivenTo,
  ): Promise<void> {
    const { project, signalOf, phase, now } = this.context;
    phase(file.key, 'reading', 0);
    const known = this.knownOf(file, predicted) ?? written.predicted!;
    const proved = await readBack(
      ...([
        file,
        project,
        { ...written, predicted: known },
        { corrected, gainDb },
        this.spoken,
        signalOf(file.key),
        now(),
      ] as const),
      {
        reading: (done) => phase(file.key, 'reading', done),
        measured: (measured) => this.context.measured(file.key, measured),
        hashing: (done) => phase(file.key, 'hashing', done),
      },
    );
    if ('ok' in proved) this.context.finished(file, proved.ok);
    else this.fail([file], proved);
  }
}

const failed = (failure: Failure): Pick<FileLine, 'state' | 'failure'> => ({ state: 'failed', failure });
