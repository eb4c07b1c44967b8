import { createStore, type StoreApi } from 'zustand/vanilla';
import { dbToAmplitude } from '@/core/loudness/decibels';
import { curveOwnedBy, ownerName, setCurve, type CurveOwner } from '@/core/programme/edits/points';
import { clipEnd, programmeFrames, type CurvePoint, type Project } from '@/core/programme/model';
import { RIDE_TOLERANCE, riddenCurve, type RideTolerance, type RideValue } from '@/core/programme/ride';
import { inSource } from '@/core/programme/sections';
import { withoutLimiters } from '@/core/signal/asRecorded';
import type { Ridden } from '@/engine/playback';
import type { Listening } from './listening';
import { newId } from './newId';
import type { SessionState } from './state';

/** How far the fader goes, dB over and under what the curve gives. */
export const FADER = { min: -24, max: 12 } as const;

/** How often the fader's place is written down, ms. */
const TICK_MS = 15;
/** So many values are told together. */
const TOLD_EACH = 10;
/** How long a fader that is let go takes back to 0 dB, ms. */
const RETURN_MS = 150;

/** A ride that was taken: what the hand did, to be thinned again as long as nothing else was done. */
export interface TakenRide {
  /** One of its kind. */
  readonly id: string;
  readonly owner: CurveOwner;
  readonly name: string;
  /** The curve before it. */
  readonly before: readonly CurvePoint[];
  readonly passes: readonly (readonly RideValue[])[];
  readonly tolerance: RideTolerance;
}

export interface RidingState {
  readonly owner: CurveOwner;
  /** Whether the ride goes on after the fader was let go, until listening stops. */
  readonly until: 'touched' | 'stopped';
  readonly recording: boolean;
  /** Where the fader stands, dB. */
  readonly faderDb: number;
  readonly touched: boolean;
  /** How many values are written down. */
  readonly values: number;
  readonly taken: TakenRide | null;
}

interface Host {
  readonly state: () => SessionState;
  readonly listening: Listening;
  readonly do: (name: string, edit: (project: Project) => Project, merge: string | null) => void;
}

/** The programme apart: what is ridden, and the rest. Limiters are left out while a hand rides. */
function apart(owner: CurveOwner): Ridden {
  const some =
    (own: boolean) =>
    (project: Project): Project => {
      const plain = withoutLimiters(project);
      if (owner.kind === 'programme') return plain;
      const is = (id: string, trackId: string): boolean =>
        owner.kind === 'clip' ? id === owner.id : trackId === owner.id;
      return { ...plain, clips: plain.clips.filter(({ id, trackId }) => is(id, trackId) === own) };
    };
  return { own: some(true), rest: owner.kind === 'programme' ? null : some(false) };
}

/** What is ridden by itself, without limiters. */
export const soundRidden = (project: Project, owner: CurveOwner): Project => apart(owner).own(project);

/** A fader that is ridden while it plays: heard at once, written down, and put on the curve as a few points. */
export class Riding {
  readonly store: StoreApi<RidingState> = createStore<RidingState>(() => ({
    ...{ owner: { kind: 'programme' }, until: 'touched', recording: false },
    ...{ faderDb: 0, touched: false, values: 0, taken: null },
  }));
  private passes: RideValue[][] = [];
  private written = 0;
  private timer: ReturnType<typeof setInterval> | null = null;
  private returning: { readonly from: number; readonly since: number } | null = null;

  constructor(private readonly host: Host) {}

  private get state(): RidingState {
    return this.store.getState();
  }

  private get project(): Project {
    return this.host.state().history.project;
  }

  setUp(change: Partial<Pick<RidingState, 'owner' | 'until'>>): void {
    if (!this.state.recording) this.store.setState(change);
  }

  /** Plays from the playhead (from the clip’s start, where that lies elsewhere) and writes down what the hand does. */
  start(): void {
    const { owner, recording } = this.state;
    const { listening } = this.host;
    if (recording || this.host.state().history.project.clips.length === 0) return;
    const clip = owner.kind === 'clip' ? this.project.clips.find(({ id }) => id === owner.id) : null;
    const { playhead, playing } = this.host.state();
    if (clip && (playhead < clip.start || playhead >= clipEnd(clip))) listening.seek(clip.start);
    // What is ridden is what is, not what it is compared with.
    if (listening.comparison.store.getState().compared !== null) listening.comparison.choose(null);
    this.passes = [];
    this.returning = null;
    this.written = 0;
    this.store.setState({ recording: true, faderDb: 0, touched: false, values: 0 });
    listening.playback.setRidden(apart(owner));
    if (!playing) void listening.play();
    this.timer = setInterval(() => this.tick(), TICK_MS);
  }

  /** Puts the fader somewhere, by whatever hand. */
  move(db: number): void {
    const faderDb = Math.max(FADER.min, Math.min(FADER.max, db));
    this.returning = null;
    this.store.setState({ faderDb, touched: true });
    this.host.listening.playback.setRideGain(dbToAmplitude(faderDb));
  }

  /** The hand is on the fader: from here on it is ridden, even where it does not move. */
  touch(): void {
    this.returning = null;
    this.store.setState({ touched: true });
  }

  /** The hand is off it: ridden only while touched, it goes back to what the curve gives. */
  letGo(): void {
    const { touched, until, faderDb } = this.state;
    if (!touched || until === 'stopped') return;
    this.returning = { from: faderDb, since: performance.now() };
    if (!this.state.recording) this.tick();
  }

  /** Where the curve is now, as its points count; `null` beside a clip. */
  private place(): number | null {
    const { owner } = this.state;
    const frame = this.host.listening.playback.position();
    if (owner.kind !== 'clip') return frame < programmeFrames(this.project) ? frame : null;
    const clip = this.project.clips.find(({ id }) => id === owner.id);
    return clip && frame >= clip.start && frame < clipEnd(clip) ? Math.round(inSource(clip, frame)) : null;
  }

  private tick(): void {
    const { returning } = this;
    if (returning) {
      const part = Math.min(1, (performance.now() - returning.since) / RETURN_MS);
      const faderDb = this.state.recording ? returning.from * (1 - part) : 0;
      this.host.listening.playback.setRideGain(dbToAmplitude(faderDb));
      this.store.setState({ faderDb });
      this.write();
      if (faderDb === 0) {
        this.returning = null;
        this.store.setState({ touched: false });
      }
    } else this.write();
    // Listening came to its end, or was stopped elsewhere.
    if (this.state.recording && !this.host.state().playing) this.stop();
  }

  /** Writes down where the fader stands. */
  private write(): void {
    const { recording, touched, faderDb, values } = this.state;
    const at = recording && touched ? this.place() : null;
    if (at === null) return void (this.passes.at(-1)?.length && this.passes.push([]));
    const last = this.passes.at(-1);
    // Gone back to the start of a loop, or somewhere else by hand, it is another pass.
    const before = last?.at(-1);
    if (!last || (before && at < before.at)) this.passes.push([{ at, db: faderDb }]);
    else if (before?.at === at) return;
    else last.push({ at, db: faderDb });
    // Counted on the screen a few times a second.
    this.written++;
    if (this.written - values >= TOLD_EACH) this.store.setState({ values: this.written });
  }

  /** Ends the ride, and the listening with it; what was ridden is one step. */
  stop(): void {
    const { recording, owner } = this.state;
    if (!recording) return;
    if (this.timer) clearInterval(this.timer);
    this.timer = null;
    const { listening } = this.host;
    if (this.host.state().playing) listening.stop();
    listening.playback.setRidden(null);
    const passes = this.passes.filter((pass) => pass.length > 1);
    this.store.setState({ recording: false, faderDb: 0, touched: false });
    if (passes.length === 0) return;
    const { project } = this;
    const before = curveOwnedBy(project, owner);
    const name = ownerName(project, owner);
    const tolerance = this.state.taken?.tolerance ?? RIDE_TOLERANCE;
    this.put({ id: newId(), owner, name, before, passes, tolerance });
  }

  /** Thins the last ride otherwise: from what the hand did. */
  thin(tolerance: RideTolerance): void {
    const { taken } = this.state;
    if (taken && this.isLast()) this.put({ ...taken, tolerance });
  }

  /** Whether the ride is the last thing that was done: only then can it be thinned otherwise. */
  isLast(): boolean {
    const { taken } = this.state;
    const { past, future } = this.host.state().history;
    return taken !== null && past.at(-1)?.merge === `ride ${taken.id}` && future.length === 0;
  }

  private put(taken: TakenRide): void {
    const { owner, before, passes, tolerance, name, id } = taken;
    const curve = riddenCurve(before, passes, tolerance, this.project.sampleRate);
    this.store.setState({ taken });
    this.host.do(`Ride ${name}`, (project) => setCurve(project, owner, curve), `ride ${id}`);
  }

  /** Gives up what goes on, without a step. */
  close(): void {
    if (this.timer) clearInterval(this.timer);
    this.timer = null;
  }
}
