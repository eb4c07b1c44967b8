/** The little of an audio graph that listening uses, on a clock of its own: what is sent to the output can be looked at. */
export const GRAPH_RATE = 48_000;

type Event =
  | { readonly kind: 'set'; readonly at: number; readonly value: number }
  | { readonly kind: 'ramp'; readonly at: number; readonly value: number }
  | { readonly kind: 'target'; readonly at: number; readonly value: number; readonly constant: number };

/** A value over time. Source: Web Audio API 1.1, 1.6.3. */
class Param {
  private events: Event[] = [];
  constructor(private readonly first: number) {}
  setValueAtTime(value: number, at: number): void {
    this.put({ kind: 'set', at, value });
  }
  linearRampToValueAtTime(value: number, at: number): void {
    this.put({ kind: 'ramp', at, value });
  }
  setTargetAtTime(value: number, at: number, constant: number): void {
    this.put({ kind: 'target', at, value, constant });
  }
  cancelScheduledValues(from: number): void {
    this.events = this.events.filter(({ at }) => at < from);
  }
  private put(event: Event): void {
    this.events.push(event);
    this.events.sort((a, b) => a.at - b.at);
  }
  valueAt(time: number): number {
    let value = this.first;
    let since = 0;
    for (const [i, event] of this.events.entries()) {
      if (event.at > time && event.kind !== 'ramp') break;
      const until = Math.min(time, this.events[i + 1]?.at ?? Infinity);
      if (event.kind === 'ramp') {
        if (time < event.at) return value + ((event.value - value) * (time - since)) / (event.at - since);
        value = event.value;
      } else if (event.kind === 'set') value = event.value;
      else value = event.value + (value - event.value) * Math.exp(-(until - event.at) / event.constant);
      since = event.at;
    }
    return value;
  }
}

interface Node {
  readonly to: Node | null;
  readonly gain?: Param;
}

/** Everything that was made, and the clock. */
export class AudioGraph {
  clock = 0;
  running: Source[] = [];
  sent: Source[] = [];

  reset(): void {
    this.clock = 0;
    this.running = [];
    this.sent = [];
  }

  /** Lets the clock run. */
  async run(seconds: number): Promise<void> {
    const until = this.clock + seconds;
    while (this.clock < until - 1e-9) {
      this.clock = Math.min(until, this.clock + 0.01);
      for (const source of this.running.filter(({ end }) => end <= this.clock)) {
        this.running = this.running.filter((other) => other !== source);
        source.onended?.();
      }
      await new Promise((resolve) => setImmediate(resolve));
    }
  }

  /** What was heard, frame by frame, from the first sample on; NaN where nothing was sent. */
  heard(): number[] {
    const first = Math.min(...this.sent.map(({ firstFrame }) => firstFrame));
    const out: number[] = [];
    for (const source of this.sent)
      for (let i = 0; i < source.frames; i++) {
        const at = source.firstFrame - first + i;
        const time = (source.firstFrame + i) / GRAPH_RATE;
        let value = source.buffer.samples[i]!;
        for (let node: Node | null = source.to; node; node = node.to) value *= node.gain?.valueAt(time) ?? 1;
        out[at] = (out[at] ?? 0) + value;
      }
    return Array.from(out, (x) => x ?? NaN);
  }

  /** What stands in for the browser's own, by their names. */
  globals(): Readonly<Record<string, unknown>> {
    // eslint-disable-next-line @typescript-eslint/no-this-alias -- the classes below need the graph they belong to
    const graph = this;
    return {
      AudioContext: class {
        readonly sampleRate = GRAPH_RATE;
        readonly destination = { channelCount: 2, maxChannelCount: 2, to: null };
        readonly state = 'running';
        get currentTime(): number {
          return graph.clock;
        }
        resume = (): Promise<void> => Promise.resolve();
        close = (): Promise<void> => Promise.resolve();
      },
      AudioBuffer: GraphBuffer,
      AudioBufferSourceNode: class extends Source {
        constructor(_: unknown, { buffer }: { buffer: GraphBuffer }) {
          super(graph, buffer);
        }
      },
      GainNode: class {
        to: Node | null = null;
        readonly gain: Param;
        constructor(_: unknown, { gain = 1 }: { gain?: number } = {}) {
          this.gain = new Param(gain);
        }
        connect<T extends Node>(to: T): T {
          this.to = to;
          return to;
        }
      },
    };
  }
}

class GraphBuffer {
  readonly length: number;
  readonly duration: number;
  samples: Float32Array = new Float32Array();
  constructor({ length, sampleRate }: { length: number; sampleRate: number }) {
    this.length = length;
    this.duration = length / sampleRate;
  }
  copyToChannel(samples: Float32Array, channel: number): void {
    if (channel === 0) this.samples = samples;
  }
}

class Source {
  onended: (() => void) | null = null;
  to: Node | null = null;
  firstFrame = Infinity;
  private at = 0;
  private until = Infinity;
  constructor(
    private readonly graph: AudioGraph,
    readonly buffer: GraphBuffer,
  ) {}
  connect<T extends Node>(to: T): T {
    this.to = to;
    return to;
  }
  start(at: number): void {
    this.at = at;
    this.firstFrame = Math.round(at * GRAPH_RATE);
    this.graph.sent.push(this);
    this.graph.running.push(this);
  }
  stop(at = this.graph.clock): void {
    this.until = Math.min(this.until, at);
    if (at <= this.graph.clock) this.graph.running = this.graph.running.filter((other) => other !== this);
  }
  /** How much of it sounds, frames. */
  get frames(): number {
    const most = Math.round(this.until * GRAPH_RATE) - this.firstFrame;
    return Math.max(0, Math.min(this.buffer.length, most));
  }
  get end(): number {
    return Math.min(this.until, this.at + this.buffer.duration);
  }
}
