import type { FramePart, SoundWriter } from '@/core/audio/soundWriter';
import { figuresOf, type LoudnessFigures } from '@/core/loudness/figures';
import { LoudnessMeter } from '@/core/loudness/meter';
import type { ReadSound } from '@/core/signal/limiter/limitedReader';

/** A file to be made out of a sound. */
export interface FileTask {
  readonly key: string;
  /** All of it, as it is to lie in the file. */
  readonly sound: ReadSound;
  /** Opens its writer. */
  readonly open: () => Promise<SoundWriter>;
  /** Its frames that are made, where others are made elsewhere; all where left out. */
  readonly part?: FramePart;
  /** Is given each piece before it is written. @param at its first frame */
  readonly heard?: ((samples: readonly Float32Array[], at: number) => Promise<void>) | undefined;
  /** What goes in is known already, and is not measured. */
  readonly known?: boolean;
}

/** What went into a file. */
export interface Produced {
  /** Measured as it went in; `null` where that is known. */
  readonly predicted: LoudnessFigures | null;
  readonly clippedSamples: number;
}

/** What became of a file. */
export type FileFate = { readonly ok: Produced } | { readonly error: unknown } | { readonly dropped: true };

/** Written at a time, seconds. */
const PIECE_SECONDS = 2;

/** One file that is being made. */
class Making {
  private writer: SoundWriter | null = null;
  private readonly meter: LoudnessMeter | null;
  private readonly part: FramePart;
  private at: number;
  fate: FileFate | null = null;

  constructor(readonly task: FileTask) {
    const { layout, sampleRate, frames } = task.sound.format;
    this.meter = task.known ? null : new LoudnessMeter(layout, sampleRate);
    this.part = task.part ?? { from: 0, to: frames };
    this.at = this.part.from;
  }

  get done(): number {
    const { from, to } = this.part;
    return to > from ? Math.min(1, (this.at - from) / (to - from)) : 1;
  }

  /** Makes the next piece; whatever goes wrong is this file's own fate. */
  async step(): Promise<void> {
    const { format } = this.task.sound;
    try {
      this.writer ??= await this.task.open();
      const count = Math.min(PIECE_SECONDS * format.sampleRate, this.part.to - this.at);
      const samples = await this.task.sound.read(this.at, count);
      await this.task.heard?.(samples, this.at);
      this.meter?.push(samples);
      await this.writer.write(samples, count);
      this.at += count;
      if (this.at < this.part.to) return;
      const { clippedSamples } = await this.writer.finish();
      this.end({ ok: { predicted: this.meter && figuresOf(this.meter.finish()), clippedSamples } });
    } catch (error) {
      this.end({ error });
    }
  }

  end(fate: FileFate): void {
    if (this.fate) return;
    this.fate = fate;
    this.meter?.release();
  }
}

/**
 * Makes several files side by side, so that what they have in common is rendered once (see `mixSounds`). One that fails or is
 * no longer wanted leaves the others alone.
 * @param wanted asked before every piece of a file
 * @param proceed asked between pieces with the part done of every file; `false` stops all of them
 * @returns by key; `null` when stopped
 */
export async function produceFiles(
  tasks: readonly FileTask[],
  wanted: (key: string) => boolean,
  proceed: (done: ReadonlyMap<string, number>) => boolean | Promise<boolean>,
): Promise<ReadonlyMap<string, FileFate> | null> {
  const makings = tasks.map((task) => new Making(task));
  try {
    for (let open = makings; open.length > 0; open = open.filter(({ fate }) => !fate)) {
      for (const making of open) {
        if (!wanted(making.task.key)) making.end({ dropped: true });
        else await making.step();
      }
      const done = new Map(makings.map(({ task, done: part }) => [task.key, part]));
      if (!(await proceed(done))) return null;
    }
    return new Map(makings.map(({ task, fate }) => [task.key, fate!]));
  } finally {
    for (const making of makings) making.end({ dropped: true });
  }
}
