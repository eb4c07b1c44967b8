import { createStore, type StoreApi } from 'zustand/vanilla';
import { playedAt } from '@/core/signal/asRecorded';
import { clipEnd, programmeFrames, type Id, type Project } from '@/core/programme/model';
import { Playback } from '@/engine/playback';
import { playFailure } from '@/engine/failure';
import type { ProgrammeEngine } from '@/engine/programmeEngine';
import { Audition } from './audition';
import { Comparison } from './comparison';
import type { Notes } from './notes';
import { shownProject, type SessionState } from './state';

/** What is shorter is a slip of the hand, not a choice. */
const SHORTEST_RANGE_SECONDS = 0.05;

/** What listening needs of its session. */
interface Host {
  readonly state: () => SessionState;
  readonly set: (change: Partial<SessionState>) => void;
  /** The programme with the clips whose sound is there. */
  readonly playable: (project: Project) => Project;
  readonly engine: ProgrammeEngine;
  readonly notes: Notes;
  /** Another sound that the programme is compared with. */
  readonly other: () => {
    readonly project: Project;
    readonly integratedLufs: number | null;
    readonly offsetSeconds: number;
  } | null;
}

/** What a service does to something. */
interface Treated {
  readonly gainDb: number;
  /** Of a limiter behind that; `null`: none. */
  readonly ceilingDbtp: number | null;
}

/** How a service plays it. */
export interface Played extends Treated {
  readonly serviceId: string;
  /** How it plays what the programme is compared with; `null` where that is nothing. */
  readonly other: Treated | null;
}

/** What is heard of a project, and from where: the programme, one thing by itself, or what it is compared with. */
export class Listening {
  readonly playback: Playback;
  /** One thing heard by itself. */
  readonly audition: Audition;
  /** Before and after by ear. */
  readonly comparison: Comparison;

  /** As which service it is heard. */
  readonly service: StoreApi<{ readonly played: Played | null }> = createStore(() => ({
    played: null as Played | null,
  }));

  constructor(private readonly host: Host) {
    const { engine } = host;
    this.playback = new Playback(
      (project, start, count, soloed, channels) => {
        const offset = this.offsetOf(project);
        // Its tracks are others than those that are soloed here.
        const solo = offset === null ? soloed : [];
        return engine.renderHeard(host.playable(project), start + (offset ?? 0), count, solo, channels);
      },
      (frame) => host.set({ playing: false, playhead: frame >= this.endFrame() ? 0 : frame }),
      (error) => this.failed('The programme', error),
    );
    this.comparison = new Comparison({
      history: () => this.state.history,
      integrated: () => this.state.programme?.figures.integratedLufs ?? null,
      measure: (project) => engine.summaryOf(host.playable(project)),
      other: () => host.other(),
      onChange: () => this.hear(shownProject(this.state)),
    });
    this.audition = new Audition(
      (project, ...where) => engine.renderHeard(project, ...where),
      () => this.stop(),
      (error) => this.failed('This', error),
    );
  }

  /** How many frames later something is found in a sound that the programme is compared with; `null` where it is not that. */
  private offsetOf({ id, sampleRate }: Project): number | null {
    const other = this.host.other();
    return other && other.project.id === id && id !== this.state.history.project.id
      ? Math.round(other.offsetSeconds * sampleRate)
      : null;
  }

  /** Says why something cannot be heard. */
  private failed(what: string, error: unknown): void {
    const { message, hint } = playFailure(error);
    this.host.notes.fail('playback', { message: `${what} cannot be heard: ${message}`, hint });
  }

  private get state(): SessionState {
    return this.host.state();
  }

  close(): void {
    this.playback.close();
    this.audition.close();
  }

  /** The programme has another rate: playhead and range stay where they are in time, and what plays goes on at its right speed. */
  changeRate(before: number, after: number): void {
    const { playing, playhead, range, looping } = this.state;
    const scale = (frame: number): number => Math.round((frame * after) / before);
    const at = playing ? this.playback.position() : playhead;
    if (playing) this.playback.stop();
    this.host.set({ playhead: scale(at) });
    if (range) this.restoreRange({ range: { from: scale(range.from), to: scale(range.to) }, looping });
    if (playing) void this.play();
  }

  /** Goes on listening with a changed programme. */
  hear(project: Project): void {
    this.playback.update(this.heard(project), programmeFrames(project), [...this.state.soloed]);
  }

  /** What is to be heard: what it is compared with, and as a service would play it. */
  private heard(project: Project): Project {
    const { played } = this.service.getState();
    const { compared } = this.comparison.store.getState();
    // As a service plays it, each at the level that it gets there: not matched.
    const other = played?.other && compared === 'other' ? this.host.other() : null;
    if (other) return playedAt(other.project, played!.other!.gainDb, played!.other!.ceilingDbtp);
    const heard = this.comparison.heard(project);
    return played ? playedAt(heard, played.gainDb, played.ceilingDbtp) : heard;
  }

  /** Plays the programme as a service would from now on; `null`: as it is. */
  hearAs(played: Played | null): void {
    this.service.setState({ played });
    this.hear(shownProject(this.state));
  }

  private endFrame(): number {
    return programmeFrames(shownProject(this.state));
  }

  async play(): Promise<void> {
    const end = this.endFrame();
    if (end === 0) return;
    this.audition.stop();
    const { looping, range, playhead } = this.state;
    const outside = range !== null && (playhead < range.from || playhead >= range.to);
    const from = looping && range && outside ? range.from : playhead >= end ? 0 : playhead;
    this.host.notes.clear('playback');
    this.host.set({ playing: true, playhead: from });
    try {
      await this.playback.play(this.heard(shownProject(this.state)), from, end, [...this.state.soloed]);
    } catch (error) {
      this.host.set({ playing: false });
      this.failed('The programme', error);
    }
  }

  /** Stops whatever is heard, else plays the programme. */
  playOrStop(): void {
    if (this.audition.store.getState().heardId !== null) this.audition.stop();
    else if (this.state.playing) this.stop();
    else void this.play();
  }

  /** Plays one clip by itself, or the part of it that the range covers; stops it when it is heard already. */
  hearAlone(clipId: Id): void {
    const project = this.host.playable(shownProject(this.state));
    const clip = project.clips.find(({ id }) => id === clipId);
    const { range } = this.state;
    const part = clip && range && range.from < clipEnd(clip) && range.to > clip.start ? range : null;
    this.audition.toggleClip(project, clipId, `alone ${clipId}`, part?.from, part?.to);
  }

  stop(): void {
    this.playback.stop();
    this.host.set({ playing: false });
  }

  /** Moves the playhead; while playing, listening goes on from there. */
  seek(frame: number): void {
    this.host.set({ playhead: Math.max(0, Math.min(Math.round(frame), this.endFrame())) });
    if (this.state.playing) void this.play();
  }

  /** Moves the playhead under a hand, and lets the place be heard. */
  scrub(frame: number): void {
    const place = Math.max(0, Math.min(Math.round(frame), this.endFrame()));
    if (this.state.playing) return this.seek(place);
    this.host.set({ playhead: place });
    const heard = this.comparison.heard(shownProject(this.state));
    void this.playback
      .scrub(heard, place, [...this.state.soloed])
      .catch((error: unknown) => this.failed('The programme', error));
  }

  /** Chooses a range of the programme; the ends come in any order. One that is too short is none. */
  setRange(a: number, b: number): void {
    const end = this.endFrame();
    const [from, to] = [a, b].sort((x, y) => x - y).map((at) => Math.max(0, Math.min(Math.round(at), end)));
    const range =
      to! - from! >= SHORTEST_RANGE_SECONDS * this.state.history.project.sampleRate
        ? { from: from!, to: to! }
        : null;
    this.host.set({ range, looping: range !== null && this.state.looping });
    this.takeLoop();
  }

  clearRange(): void {
    this.restoreRange({ range: null, looping: false });
  }

  /** Takes the range and the loop as they were before. */
  restoreRange(before: Pick<SessionState, 'range' | 'looping'>): void {
    this.host.set({ range: before.range, looping: before.looping });
    this.takeLoop();
  }

  toggleLoop(): void {
    this.host.set({ looping: !this.state.looping && this.state.range !== null });
    this.takeLoop();
  }

  private takeLoop(): void {
    const { looping, range } = this.state;
    this.playback.setLoop(looping ? range : null);
  }

  /** Solo changes what is heard, never what is rendered. */
  toggleSolo(trackId: Id): void {
    const soloed = new Set(this.state.soloed);
    if (!soloed.delete(trackId)) soloed.add(trackId);
    this.host.set({ soloed });
    this.hear(shownProject(this.state));
  }
}
