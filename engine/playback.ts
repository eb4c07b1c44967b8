import { Failed, toFailure } from './failure';
import type { Project } from '@/core/programme/model';

/** Seconds rendered at a time, and how far ahead of the ear. */
const PIECE_SECONDS = 0.1;
const AHEAD_SECONDS = 0.5;
/** How soon after an edit the new sound may begin: time enough to render the first piece. */
const SWITCH_SECONDS = 0.08;

/** Heard at a time while scrubbing, and how long it takes to come and go. */
const SCRUB_SECONDS = 0.12;
const SCRUB_EDGE_SECONDS = 0.012;

/** Renders a range of the programme for the ear, folded to so many channels where it has more. */
export type RenderHeard = (
  project: Project,
  start: number,
  count: number,
  soloed: readonly string[],
  channels: number,
) => Promise<Float32Array[]>;

/** A range that is heard again and again, programme frames. */
export interface Loop {
  readonly from: number;
  readonly to: number;
}

/** How often it is looked whether the output goes on, ms, and after how many looks without a step of its clock it does not. */
const LOOK_MS = 500;
const MOST_STILL = 6;

/** How long what was heard before an edit and what is heard after it cross: short, yet no step. */
const CROSS_SECONDS = 0.012;
/** The gain of what is ridden comes this near to where the hand is, within: too short to be late, too long to click. */
const RIDE_SECONDS = 0.004;

/** A part of a piece: all of it, or what is ridden and what is not. */
interface Sounding {
  readonly node: AudioBufferSourceNode;
  readonly level: GainNode;
}

interface Scheduled {
  readonly soundings: readonly Sounding[];
  readonly startFrame: number;
  readonly startTime: number;
  readonly length: number;
  /** It comes up while another goes. */
  readonly crosses: boolean;
}

/** Something whose gain is moved by hand while it sounds: a programme falls apart into it and the rest. */
export interface Ridden {
  /** All that is not ridden; `null` where all of it is. */
  readonly rest: ((project: Project) => Project) | null;
  readonly own: (project: Project) => Project;
}

function stopNow({ soundings }: Scheduled): void {
  for (const { node } of soundings) {
    node.onended = null;
    node.stop();
  }
}

/** Lets a piece begin as it was to, and go at once: what takes its place comes up meanwhile. */
function fadeOut({ soundings, startTime }: Scheduled): void {
  for (const { node, level } of soundings) {
    node.onended = null;
    level.gain.cancelScheduledValues(0);
    level.gain.setValueAtTime(1, startTime);
    level.gain.linearRampToValueAtTime(0, startTime + CROSS_SECONDS);
    node.stop(startTime + CROSS_SECONDS);
  }
}

/**
 * Plays the programme: pieces are rendered a little ahead by the same code that renders the file, and laid end to end
 * on the audio clock. An edit takes back what has not sounded yet and goes on with the new sound at the same place; the two cross.
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
  private loop: Loop | null = null;
  private scrubbing = false;
  /** What was taken back, and sounds only while it goes. */
  private leaving: Scheduled[] = [];
  private ridden: Ridden | null = null;
  /** What is ridden goes through here. */
  private rideLevel: GainNode | null = null;
  private rideAmplitude = 1;
  /** The next piece follows on another sound, with which it crosses. */
  private crosses = false;
  playing = false;
  private looking: ReturnType<typeof setInterval> | undefined;

  constructor(
    private readonly renderHeard: RenderHeard,
    private readonly onStop: (frame: number) => void,
    /** Told why it had to stop. */
    private readonly onFail: (error: unknown) => void,
  ) {}

  /** Starts at a frame. Must follow a user's gesture, as browsers ask. */
  async play(project: Project, frame: number, endFrame: number, soloed: readonly string[]): Promise<void> {
    this.halt();
    if (frame >= endFrame) return;
    const generation = ++this.generation;
    const context = await this.contextFor(project);
    if (generation !== this.generation) return;
    this.project = project;
    this.soloed = soloed;
    this.endFrame = endFrame;
    this.nextFrame = frame;
    this.nextTime = context.currentTime + SWITCH_SECONDS;
    this.playing = true;
    this.watch(context);
    void this.fill();
  }

  private async contextFor({ sampleRate }: Project): Promise<AudioContext> {
    if (this.context?.sampleRate !== sampleRate) {
      void this.context?.close();
      this.context = new AudioContext({ sampleRate });
      this.rideLevel = new GainNode(this.context, { gain: this.rideAmplitude });
      this.rideLevel.connect(this.context.destination);
    }
    const { context } = this;
    await context.resume();
    return context;
  }

  /** Repeats a range once listening reaches its end; `null` goes on to the programme's. */
  setLoop(loop: Loop | null): void {
    const same = loop?.from === this.loop?.from && loop?.to === this.loop?.to;
    this.loop = loop;
    if (!same && this.project) this.update(this.project, this.endFrame, this.soloed);
  }

  /** Lets a moment at a place be heard while scrubbing over it; too fast, some are skipped. */
  async scrub(project: Project, frame: number, soloed: readonly string[]): Promise<void> {
    if (this.playing || this.scrubbing) return;
    this.scrubbing = true;
    try {
      const context = await this.contextFor(project);
      const count = Math.round(SCRUB_SECONDS * context.sampleRate);
      const buffer = await this.render(context, project, frame, count, soloed);
      if (this.playing) return;
      const node = new AudioBufferSourceNode(context, { buffer });
      const level = new GainNode(context, { gain: 0 });
      const from = context.currentTime + 0.005;
      level.gain.setValueAtTime(0, from);
      level.gain.linearRampToValueAtTime(1, from + SCRUB_EDGE_SECONDS);
      level.gain.setValueAtTime(1, from + SCRUB_SECONDS - SCRUB_EDGE_SECONDS);
      level.gain.linearRampToValueAtTime(0, from + SCRUB_SECONDS);
      node.connect(level).connect(context.destination);
      node.start(from);
      await new Promise((resolve) => setTimeout(resolve, SCRUB_SECONDS * 800));
    } finally {
      this.scrubbing = false;
    }
  }

  private async render(
    context: AudioContext,
    project: Project,
    frame: number,
    count: number,
    soloed: readonly string[],
  ): Promise<AudioBuffer> {
    const channels = context.destination.channelCount;
    const samples = await this.renderHeard(project, frame, count, soloed, channels).catch(
      (error: unknown) => {
        throw new Failed(toFailure(error));
      },
    );
    const { sampleRate } = context;
    const buffer = new AudioBuffer({ length: count, numberOfChannels: samples.length, sampleRate });
    samples.forEach((channel, c) => buffer.copyToChannel(channel as Float32Array<ArrayBuffer>, c));
    return buffer;
  }

  /** Has something ridden from now on, or nothing any more; it begins at 0 dB. */
  setRidden(ridden: Ridden | null): void {
    this.ridden = ridden;
    this.setRideGain(1);
    if (this.project) this.update(this.project, this.endFrame, this.soloed);
  }

  /** Moves the gain of what is ridden: it is heard at once. @param amplitude ratio */
  setRideGain(amplitude: number): void {
    this.rideAmplitude = amplitude;
    if (this.context) this.rideLevel?.gain.setTargetAtTime(amplitude, this.context.currentTime, RIDE_SECONDS);
  }

  /** Goes on with a changed programme, at the same place. */
  update(project: Project, endFrame: number, soloed: readonly string[]): void {
    if (!this.playing || !this.context) return;
    this.project = project;
    this.soloed = soloed;
    this.endFrame = endFrame;
    const from = this.context.currentTime + SWITCH_SECONDS;
    const keep = this.scheduled.filter((piece) => piece.startTime < from);
    const [next, ...later] = this.scheduled.filter((piece) => piece.startTime >= from);
    for (const piece of later) stopNow(piece);
    // One that was to come up there itself has not begun: what goes there goes already.
    if (next?.crosses) stopNow(next);
    else if (next) {
      fadeOut(next);
      this.leaving.push(next);
    }
    this.crosses ||= next !== undefined;
    this.scheduled = keep;
    const last = keep.at(-1);
    if (last) {
      this.nextFrame = last.startFrame + last.length;
      this.nextTime = last.startTime + last.length / this.context.sampleRate;
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
    return Math.min(this.endFrame, Math.round(sounding.startFrame + Math.min(into, sounding.length)));
  }

  close(): void {
    this.halt();
    void this.context?.close();
    this.context = null;
  }

  /**
   * Stops with a word when the output takes no sound any more: its device was taken away, say. Looks are counted, not time, as a
   * machine that slept has not played meanwhile, and goes on.
   */
  private watch(context: AudioContext): void {
    let [last, still] = [context.currentTime, 0];
    clearInterval(this.looking);
    this.looking = setInterval(() => {
      still = context.currentTime > last ? 0 : still + 1;
      last = context.currentTime;
      if (still < MOST_STILL) return;
      this.stop();
      // What stands still is not played on again.
      this.context = null;
      void context.close().catch(() => undefined);
      this.onFail(new Error('it takes no sound any more'));
    }, LOOK_MS);
  }

  private halt(): void {
    clearInterval(this.looking);
    this.generation++;
    this.playing = false;
    this.crosses = false;
    for (const piece of [...this.scheduled, ...this.leaving]) stopNow(piece);
    this.scheduled = [];
    this.leaving = [];
  }

  /** Whether there is anything left to be heard after what is scheduled. */
  private more(): boolean {
    return this.nextFrame < this.endFrame || (this.loop !== null && this.nextFrame === this.loop.to);
  }

  private async fill(): Promise<void> {
    if (this.filling) return;
    this.filling = true;
    try {
      while (this.playing && this.context && this.more()) {
        if (this.nextTime - this.context.currentTime > AHEAD_SECONDS) return;
        await this.renderNext(this.context, this.project!);
      }
    } catch (error) {
      this.stop();
      this.onFail(error);
    } finally {
      this.filling = false;
    }
  }

  private async renderNext(context: AudioContext, project: Project): Promise<void> {
    const { generation, loop } = this;
    const nextFrame = this.nextFrame === loop?.to ? loop.from : this.nextFrame;
    const before = loop && nextFrame < loop.to ? Math.min(loop.to, this.endFrame) : this.endFrame;
    const count = Math.min(Math.round(PIECE_SECONDS * context.sampleRate), before - nextFrame);
    const { ridden, soloed } = this;
    const states = ridden ? [ridden.own(project), ...(ridden.rest ? [ridden.rest(project)] : [])] : [project];
    const buffers = await Promise.all(
      states.map((state) => this.render(context, state, nextFrame, count, soloed)),
    );
    if (generation !== this.generation) return;
    // Late (the machine was busy): go on from now rather than dropping what was not heard.
    this.nextTime = Math.max(this.nextTime, context.currentTime + 0.01);
    const startTime = this.nextTime;
    const soundings = buffers.map((buffer, i): Sounding => {
      const node = new AudioBufferSourceNode(context, { buffer });
      const level = new GainNode(context);
      const to = ridden && i === 0 ? this.rideLevel! : context.destination;
      node.connect(level).connect(to);
      if (this.crosses) {
        level.gain.setValueAtTime(0, startTime);
        level.gain.linearRampToValueAtTime(1, startTime + CROSS_SECONDS);
      }
      node.start(startTime);
      return { node, level };
    });
    const { crosses } = this;
    this.crosses = false;
    this.leaving = this.leaving.filter((other) => other.startTime + CROSS_SECONDS > context.currentTime);
    const piece: Scheduled = { soundings, startFrame: nextFrame, startTime, length: count, crosses };
    this.scheduled.push(piece);
    this.nextFrame = nextFrame + count;
    this.nextTime += count / context.sampleRate;
    soundings[0]!.node.onended = () => this.ended(piece);
  }

  private ended(piece: Scheduled): void {
    if (!this.playing) return;
    if (piece === this.scheduled.at(-1) && !this.more()) {
      this.nextFrame = this.endFrame;
      this.halt();
      this.onStop(this.endFrame);
      return;
    }
    if (this.scheduled.length > 1) this.scheduled = this.scheduled.filter((other) => other !== piece);
    void this.fill();
  }
}
