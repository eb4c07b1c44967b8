import { createStore, type StoreApi } from 'zustand/vanilla';
import { dbToAmplitude } from '@/core/loudness/decibels';

interface PlayerState {
  readonly playing: boolean;
  /** Where listening begins, seconds. */
  readonly now: number;
  /** Why it cannot be heard, a full sentence. */
  readonly trouble: string | null;
}

const CANNOT = 'The browser cannot play this kind of file. Open it in a project to hear it.';

/** Plays a finished file by the browser’s own means, at a gain where that is asked for. */
export class FilePlayer {
  readonly store: StoreApi<PlayerState> = createStore<PlayerState>(() => ({
    ...{ playing: false, now: 0, trouble: null },
  }));
  private element: HTMLAudioElement | null = null;
  private address: string | null = null;
  private context: AudioContext | null = null;
  private gain: GainNode | null = null;
  private gainDb = 0;

  constructor(private readonly file: Blob) {}

  private open(): HTMLAudioElement {
    if (this.element) return this.element;
    this.address = URL.createObjectURL(this.file);
    const element = new Audio(this.address);
    element.preload = 'auto';
    element.addEventListener('ended', () => this.store.setState({ playing: false, now: 0 }));
    element.addEventListener('error', () => this.store.setState({ playing: false, trouble: CANNOT }));
    this.context = new AudioContext();
    this.gain = this.context.createGain();
    this.gain.gain.value = dbToAmplitude(this.gainDb);
    this.context.createMediaElementSource(element).connect(this.gain).connect(this.context.destination);
    this.element = element;
    return element;
  }

  position(): number {
    return this.store.getState().playing && this.element
      ? this.element.currentTime
      : this.store.getState().now;
  }

  go(seconds: number): void {
    this.store.setState({ now: seconds });
    if (this.store.getState().playing && this.element) this.element.currentTime = seconds;
  }

  async play(seconds: number): Promise<void> {
    this.store.setState({ now: seconds, trouble: null, playing: true });
    try {
      const element = this.open();
      await this.context!.resume();
      element.currentTime = seconds;
      await element.play();
    } catch (error) {
      // Stopped before it began.
      if (error instanceof DOMException && error.name === 'AbortError') return;
      this.store.setState({ playing: false, trouble: CANNOT });
    }
  }

  stop(): void {
    this.store.setState({ playing: false, now: this.position() });
    this.element?.pause();
  }

  setGain(db: number): void {
    this.gainDb = db;
    if (this.gain) this.gain.gain.value = dbToAmplitude(db);
  }

  close(): void {
    this.element?.pause();
    void this.context?.close();
    if (this.address !== null) URL.revokeObjectURL(this.address);
    this.element = null;
  }
}
