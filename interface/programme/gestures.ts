import { changeGain } from '@/core/programme/edits/gain';
import { moveClips } from '@/core/programme/edits/clips';
import { trimClips } from '@/core/programme/edits/cutting';
import { gainRoom } from '@/core/programme/clipGain';
import { clipEnd, type Clip, type Id, type Project } from '@/core/programme/model';
import { gainText } from './clipLevel';
import { count } from '../parts/words';
import type { Session } from '../session/session';
import { luPerPixel } from './laneScale';

/** A hand on something: told of every movement, then let go or taken back. */
export interface Gesture {
  move(event: PointerEvent): void;
  finish(): void;
  cancel(): void;
}

/** Places that a hand is drawn to: the start, the playhead, the edges of all clips that it does not hold. */
class SnapEdges {
  private readonly edges: number[];

  constructor(session: Session, held: ReadonlySet<Id>) {
    this.edges = [0, session.state.playhead];
    for (const clip of session.project.clips)
      if (!held.has(clip.id)) this.edges.push(clip.start, clipEnd(clip));
    this.edges.sort((a, b) => a - b);
  }

  /** The place nearest to a frame, by binary search. */
  nearest(frame: number): number {
    let low = 0;
    let high = this.edges.length - 1;
    while (low < high) {
      const middle = (low + high) >> 1;
      if (this.edges[middle]! < frame) low = middle + 1;
      else high = middle;
    }
    const above = this.edges[low]!;
    const below = this.edges[Math.max(0, low - 1)]!;
    return frame - below < above - frame ? below : above;
  }
}

const FINE = 0.1;

/** Drags the waterline of a clip, and with it the gain of all that are chosen. Shift slows it down tenfold. */
export class GainGesture implements Gesture {
  /** How far all of them can go by the same amount. */
  private readonly room: ReturnType<typeof gainRoom>;
  private lastY: number;
  private moved = 0;
  private change = 0;

  constructor(
    private readonly session: Session,
    private readonly grabbed: Clip,
    private readonly ids: ReadonlySet<Id>,
    startY: number,
    private readonly laneHeight: number,
    /** A press and release in one place is no change. */
    private readonly onClick: () => void,
  ) {
    this.room = gainRoom(session.project.clips.filter((clip) => ids.has(clip.id)));
    this.lastY = startY;
  }

  move(event: PointerEvent): void {
    this.moved += (this.lastY - event.clientY) * luPerPixel(this.laneHeight) * (event.shiftKey ? FINE : 1);
    this.lastY = event.clientY;
    const step = event.shiftKey ? 100 : 10;
    const { db } = this.grabbed.gain;
    const wanted = Math.round((db + this.moved) * step) / step - db;
    this.change = Math.min(this.room.maxDb, Math.max(this.room.minDb, wanted));
    this.session.previewGain(this.ids, this.change);
  }

  finish(): void {
    if (this.moved === 0) return this.onClick();
    if (this.change === 0) return this.cancel();
    const name =
      this.ids.size === 1
        ? `Gain of ${this.grabbed.name} to ${gainText(this.grabbed.gain.db + this.change)}`
        : `Change gain of ${count(this.ids.size, 'clip')} by ${gainText(this.change)}`;
    this.session.do(name, (project) => changeGain(project, this.ids, { kind: 'change', db: this.change }));
  }

  cancel(): void {
    this.session.setPreview(null);
  }
}

/** Drags an edge of a clip, as far as its source reaches; snaps to edges, the start and the playhead. */
export class TrimGesture implements Gesture {
  private readonly edges: SnapEdges;
  private at: number | null = null;

  constructor(
    private readonly session: Session,
    private readonly grabbed: Clip,
    private readonly edge: 'start' | 'end',
    private readonly startX: number,
    private readonly framesPerPixel: number,
    private readonly onClick: () => void,
  ) {
    this.edges = new SnapEdges(session, new Set([grabbed.id]));
  }

  private edit(project: Project): Project {
    return trimClips(project, new Set([this.grabbed.id]), this.edge, this.at!);
  }

  move(event: PointerEvent): void {
    const from = this.edge === 'start' ? this.grabbed.start : clipEnd(this.grabbed);
    const wanted = from + (event.clientX - this.startX) * this.framesPerPixel;
    const near = this.edges.nearest(wanted);
    this.at = Math.abs(near - wanted) <= SNAP_PIXELS * this.framesPerPixel ? near : wanted;
    this.session.setPreview(this.edit(this.session.project));
  }

  finish(): void {
    if (this.at === null) return this.onClick();
    this.session.do(`Trim ${this.edge} of ${this.grabbed.name}`, (project) => {
      const after = this.edit(project);
      const now = after.clips.find(({ id }) => id === this.grabbed.id);
      return now?.length === this.grabbed.length ? project : after;
    });
  }

  cancel(): void {
    this.session.setPreview(null);
  }
}

const START_DISTANCE = 4;
const SNAP_PIXELS = 7;

/** Moves clips in time, and the one that was grabbed from lane to lane; snaps to edges, the start and the playhead. */
export class MoveGesture implements Gesture {
  private readonly base: Project;
  private readonly edges: SnapEdges;
  private started = false;
  private shift = 0;
  private toTrack: Id;

  constructor(
    private readonly session: Session,
    private readonly grabbed: Clip,
    private readonly ids: ReadonlySet<Id>,
    private readonly start: { readonly x: number; readonly y: number },
    private readonly framesPerPixel: number,
    private readonly trackAt: (clientY: number) => Id | null,
    /** A press and release in one place is no move. */
    private readonly onClick: () => void,
  ) {
    this.base = session.project;
    this.toTrack = grabbed.trackId;
    this.edges = new SnapEdges(session, ids);
  }

  private snapped(shift: number): number {
    const { start, length } = this.grabbed;
    const reach = SNAP_PIXELS * this.framesPerPixel;
    const byStart = this.edges.nearest(start + shift) - (start + shift);
    const byEnd = this.edges.nearest(start + length + shift) - (start + length + shift);
    const best = Math.abs(byStart) <= Math.abs(byEnd) ? byStart : byEnd;
    return Math.abs(best) <= reach ? shift + best : shift;
  }

  private edit(project: Project): Project {
    return moveClips(project, this.ids, this.shift, { clipId: this.grabbed.id, trackId: this.toTrack });
  }

  move(event: PointerEvent): void {
    const dx = event.clientX - this.start.x;
    if (!this.started && Math.hypot(dx, event.clientY - this.start.y) < START_DISTANCE) return;
    this.started = true;
    this.shift = this.snapped(Math.round(dx * this.framesPerPixel));
    this.toTrack = this.trackAt(event.clientY) ?? this.toTrack;
    this.session.setPreview(this.edit(this.base));
  }

  finish(): void {
    if (!this.started) return this.onClick();
    const name = this.ids.size === 1 ? `Move ${this.grabbed.name}` : `Move ${count(this.ids.size, 'clip')}`;
    const { id, start, trackId } = this.grabbed;
    this.session.do(name, (project) => {
      const moved = this.edit(project);
      const now = moved.clips.find((clip) => clip.id === id);
      return now?.start === start && now.trackId === trackId ? project : moved;
    });
  }

  cancel(): void {
    this.session.setPreview(null);
  }
}
