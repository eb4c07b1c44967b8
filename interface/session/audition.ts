import { createStore, type StoreApi } from 'zustand/vanilla';
import { layoutFor } from '@/core/audio/layout';
import { PLAIN_CLIP, type Id, type Source } from '@/core/programme/model';
import { newProject } from '@/core/programme/newProject';
import { Playback, type Stretch } from '@/engine/playback';

interface AuditionState {
  /** The source that is heard; `null` while none is. */
  readonly sourceId: Id | null;
  /** Why nothing can be heard, as the browser put it. */
  readonly failure: string | null;
}

/** A source as a programme of its own, so that it is heard by the same code. */
function alone(source: Source) {
  const empty = newProject('audition', source.name, 'track');
  const { id: sourceId, name, frames: length } = source;
  const layoutId = source.layout.labels.length === 1 ? layoutFor(1).id : empty.layoutId;
  return {
    ...empty,
    sampleRate: source.sampleRate,
    layoutId,
    sources: [source],
    clips: [
      {
        id: 'clip',
        trackId: 'track',
        sourceId,
        name,
        start: 0,
        length,
        sourceStart: 0,
        ...PLAIN_CLIP,
      },
    ],
  };
}

/** Plays one source by itself, at its own rate. */
export class Audition {
  readonly store: StoreApi<AuditionState> = createStore(() => ({ sourceId: null, failure: null }));
  private readonly playback: Playback;

  constructor(
    stretch: Stretch,
    private readonly onStart: () => void,
  ) {
    this.playback = new Playback(stretch, () => this.store.setState({ sourceId: null }));
  }

  /** Plays from a place to another, seconds. */
  async play(source: Source, from: number, to = Infinity): Promise<void> {
    this.onStart();
    this.store.setState({ sourceId: source.id, failure: null });
    const frame = (seconds: number): number =>
      Math.round(Math.max(0, Math.min(source.frames, seconds * source.sampleRate)));
    try {
      await this.playback.play(alone(source), frame(from), frame(to), []);
    } catch (error) {
      const failure = error instanceof Error ? error.message : String(error);
      this.store.setState({ sourceId: null, failure });
    }
  }

  stop(): void {
    this.playback.stop();
    this.store.setState({ sourceId: null });
  }

  /** Where it is heard, seconds; `null` while this source is silent. */
  position(source: Source): number | null {
    const { sourceId } = this.store.getState();
    return sourceId === source.id && this.playback.playing
      ? this.playback.position() / source.sampleRate
      : null;
  }

  close(): void {
    this.playback.close();
  }
}
