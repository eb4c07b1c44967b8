import type { Project } from '@/core/programme/model';

/** Seconds rendered at a time, and how far ahead of the ear. */
const PIECE_SECONDS = 0.1;
const AHEAD_SECONDS = 0.5;
/** How soon after an edit the new sound may begin: time enough to render the first piece. */
const SWITCH_SECONDS = 0.08;

/** Renders a stretch of the programme for the ear. */
export type Stretch = (
  project: Project,
  start: number,
  count: number,
  soloed: readonly string[],
) => Promise<Float32Array[]>;

interface Scheduled {
  readonly node: AudioBufferSourceNode;
  readonly startFrame: number;
  readonly startTime: number;
}

/**
 * Plays the programme: pieces are rendered a little ahead by the same code that renders the file, and laid end to end
 * on the audio clock. An edit takes back what has not sounded yet and goes on with the new sound at the same place.
 */
export class Playback {
  private context: AudioContext | null = null;
  private scheduled: Scheduled[] = [];
  private project: Project | null = null;
  private soloed: readonly string[] = [];
  /** Next frame to be rendered, and when it will sound. */
  private nextFrame = 0;
  private nextTime = 0;
  private endFrame = 0;
  /** Raised when what is on its way is no longer wanted. */
  private generation = 0;
  private filling = false;
  playing = false;

  constructor(
    private readonly stretch: Stretch,
    private readonly onStop: (frame: number) => void,
  ) {}

  /** Starts at a frame. Must follow a user's gesture, as browsers ask. */
  async play(project: Project, frame: number, endFrame: number, soloed: readonly string[]): Promise<void> {
    this.halt();
    if (frame >= endFrame) return;
    if (this.context?.sampleRate !== project.sampleRate) {
      await this.context?.close();
      this.context = new AudioContext({ sampleRate: project.sampleRate });
    }
    const generation = ++this.generation;
    await this.context.resume();
    if (generation !== this.generation) return;
    this.project = project;
    this.soloed = soloed;
    this.endFrame = endFrame;
    this.nextFrame = frame;
    this.nextTime = this.context.currentTime + SWITCH_SECONDS;
    this.playing = true;
    void this.fill();
  }

  /** Goes on with a changed programme, at the same place. */
  update(project: Project, endFrame: number, soloed: readonly string[]): void {
    if (!this.playing || !this.context) return;
    this.project = project;
    this.soloed = soloed;
    this.endFrame = endFrame;
    const from = this.context.currentTime + SWITCH_SECONDS;
    const keep = this.scheduled.filter((piece) => piece.startTime < from);
    for (const piece of this.scheduled) if (piece.startTime >= from) piece.node.stop();
    this.scheduled = keep;
    const last = keep.at(-1);
    if (last) {
      this.nextFrame = last.startFrame + last.node.buffer!.length;
      this.nextTime = last.startTime + last.node.buffer!.duration;
    }
    this.generation++;
    void this.fill();
  }

  /** Stops; the place stays. */
  stop(): void {
    const at = this.position();
    if (!this.playing) return;
    this.halt();
    this.onStop(at);
  }

  /** The frame that is heard now. */
  position(): number {
    if (!this.context || this.scheduled.length === 0) return this.nextFrame;
    const now = this.context.currentTime;
    const sounding = this.scheduled.findLast((piece) => piece.startTime <= now) ?? this.scheduled[0]!;
    const into = Math.max(0, now - sounding.startTime) * this.context.sampleRate;
    return Math.min(
      this.endFrame,
      Math.round(sounding.startFrame + Math.min(into, sounding.node.buffer!.length)),
    );
  }

  close(): void {
    this.halt();
    void this.context?.close();
    this.context = null;
  }

  private halt(): void {
    this.generation++;
    this.playing = false;
    for (const piece of this.scheduled) {
      piece.node.onended = null;
      piece.node.stop();
    }
    this.scheduled = [];
  }

  private async fill(): Promise<void> {
    if (this.filling) return;
    this.filling = true;
    try {
      while (this.playing && this.context && this.nextFrame < this.endFrame) {
        if (this.nextTime - this.context.currentTime > AHEAD_SECONDS) return;
        await this.renderNext(this.context, this.project!);
      }
    } catch (error) {
      console.error(error);
      this.stop();
    } finally {
      this.filling = false;
    }
  }

  private async renderNext(context: AudioContext, project: Project): Promise<void> {
    const { generation, nextFrame } = this;
    const count = Math.min(Math.round(PIECE_SECONDS * context.sampleRate), this.endFrame - nextFrame);
    const samples = await this.stretch(project, nextFrame, count, this.soloed);
    if (generation !== this.generation) return;
    // Late (the machine was busy): go on from now rather than dropping what was not heard.
    this.nextTime = Math.max(this.nextTime, context.currentTime + 0.01);
    const buffer = new AudioBuffer({
      length: count,
      numberOfChannels: samples.length,
      sampleRate: context.sampleRate,
    });
    samples.forEach((channel, c) => buffer.copyToChannel(channel as Float32Array<ArrayBuffer>, c));
    const node = new AudioBufferSourceNode(context, { buffer });
    node.connect(context.destination);
    node.start(this.nextTime);
    const piece: Scheduled = { node, startFrame: nextFrame, startTime: this.nextTime };
    this.scheduled.push(piece);
    this.nextFrame += count;
    this.nextTime += count / context.sampleRate;
    node.onended = () => this.ended(piece);
  }

  private ended(piece: Scheduled): void {
    if (!this.playing) return;
    if (piece.startFrame + piece.node.buffer!.length >= this.endFrame) {
      this.nextFrame = this.endFrame;
      this.halt();
      this.onStop(this.endFrame);
      return;
    }
    if (this.scheduled.length > 1) this.scheduled = this.scheduled.filter((other) => other !== piece);
    void this.fill();
  }
}
