import { createStore, type StoreApi } from 'zustand/vanilla';
import { layoutFor } from '@/core/audio/layout';
import { clipEnd, PLAIN_CLIP, type Id, type Project, type Source } from '@/core/programme/model';
import { newProject } from '@/core/programme/newProject';
import { Playback, type RenderHeard } from '@/engine/playback';

interface AuditionState {
  /** What is heard: the id of a source, or whatever a clip is called; `null` while nothing is. */
  readonly heardId: string | null;
}

/** A source as a programme of its own, so that it is heard by the same code. */
function alone(source: Source, trimDb: number) {
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
        trimDb,
      },
    ],
  };
}

/** Plays one thing by itself: a source at its own rate, or a clip with its gains. */
export class Audition {
  readonly store: StoreApi<AuditionState> = createStore(() => ({ heardId: null }));
  private readonly playback: Playback;

  constructor(
    renderHeard: RenderHeard,
    private readonly onStart: () => void,
    private readonly onFail: (error: unknown) => void,
  ) {
    this.playback = new Playback(renderHeard, () => this.store.setState({ heardId: null }), onFail);
  }

  /** Plays a source from a place to another, seconds. @param trimDb as recorded when left out */
  play(source: Source, from: number, to = Infinity, trimDb = 0): Promise<void> {
    const frame = (seconds: number): number =>
      Math.round(Math.max(0, Math.min(source.frames, seconds * source.sampleRate)));
    return this.start(source.id, alone(source, trimDb), frame(from), frame(to));
  }

  /**
   * Plays one clip of a programme by itself, muted or not; where that is heard already, stops.
   * @param heardId what it is called while it is heard
   * @param from, to programme frames; all of it when left out
   */
  toggleClip(project: Project, clipId: Id, heardId: string, from = 0, to = Infinity): void {
    if (this.store.getState().heardId === heardId) return this.stop();
    const clip = project.clips.find(({ id }) => id === clipId);
    if (!clip) return;
    const tracks = project.tracks.map((track) => ({ ...track, muted: false }));
    const [first, last] = [Math.max(from, clip.start), Math.min(to, clipEnd(clip))];
    void this.start(heardId, { ...project, tracks, clips: [clip] }, first, last);
  }

  private async start(heardId: string, project: Project, from: number, to: number): Promise<void> {
    this.onStart();
    this.store.setState({ heardId });
    try {
      await this.playback.play(project, from, to, []);
    } catch (error) {
      this.store.setState({ heardId: null });
      this.onFail(error);
    }
  }

  stop(): void {
    this.playback.stop();
    this.store.setState({ heardId: null });
  }

  /** Where it is heard, seconds; `null` while this source is silent. */
  position(source: Source): number | null {
    const { heardId } = this.store.getState();
    return heardId === source.id && this.playback.playing
      ? this.playback.position() / source.sampleRate
      : null;
  }

  close(): void {
    this.playback.close();
  }
}
