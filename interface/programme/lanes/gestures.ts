import { lawOf, movingStates, type Moving } from '@/core/measuring/moving';
import { covers } from '@/core/measuring/movingLaw';
import { changeLevel } from '@/core/programme/edits/groups';
import { moveClips } from '@/core/programme/edits/clips';
import { followCrossfades } from '@/core/programme/edits/crossfades';
import { trimClips } from '@/core/programme/edits/cutting';
import { moveSection, sectionRoom } from '@/core/programme/edits/sections';
import type { CurveSection } from '@/core/programme/curve';
import { levelRoom, type GainRoom } from '@/core/programme/clipGain';
import { wholeGroup } from '@/core/programme/groups';
import { clipEnd, type Clip, type Id, type Project } from '@/core/programme/model';
import { gainText } from '../clipLevel';
import { count } from '@/core/text/words';
import type { Gesture } from '../../editing/useGesture';
import type { Session } from '../../session/session';
import { START_DISTANCE } from './laneScale';
import { SnapEdges } from './snapEdges';

const FINE = 0.1;

/** Drags the waterline of a clip, and with it the gain of all that are chosen. Shift slows it down tenfold. */
export class GainGesture implements Gesture {
  /** How far all of them can go by the same amount. */
  private readonly room: GainRoom;
  /** What is moved: a group's gain, or that of the clip that was grabbed, and of all others by as much. */
  private readonly name: string;
  private readonly db: number;
  private lastY: number;
  private readonly several: boolean;
  private moved = 0;
  private change = 0;

  constructor(
    private readonly session: Session,
    grabbed: Clip,
    private readonly ids: ReadonlySet<Id>,
    startY: number,
    private readonly luPerPixel: number,
    /** A press and release in one place is no change. */
    private readonly onClick: () => void,
  ) {
    const group = wholeGroup(session.project, ids);
    this.room = levelRoom(session.project, ids);
    this.name = group?.name ?? grabbed.name;
    this.db = (group ?? grabbed).gain.db;
    this.several = group === null && ids.size > 1;
    this.lastY = startY;
  }

  move(event: PointerEvent): void {
    this.moved += (this.lastY - event.clientY) * this.luPerPixel * (event.shiftKey ? FINE : 1);
    this.lastY = event.clientY;
    const step = event.shiftKey ? 100 : 10;
    const wanted = Math.round((this.db + this.moved) * step) / step - this.db;
    this.change = Math.min(this.room.maxDb, Math.max(this.room.minDb, wanted));
    this.session.previewGain(this.ids, this.change);
  }

  finish(): void {
    if (this.moved === 0) return this.onClick();
    if (this.change === 0) return this.cancel();
    const name = this.several
      ? `Change gain of ${count(this.ids.size, 'clip')} by ${gainText(this.change)}`
      : `Gain of ${this.name} to ${gainText(this.db + this.change)}`;
    this.session.do(name, (project) => changeLevel(project, this.ids, { kind: 'change', db: this.change }));
  }

  cancel(): void {
    this.session.setPreview(null);
  }
}

/** Drags a part of a clip that has a gain of its own, ramps and all. Shift slows it down tenfold. */
export class PartGesture implements Gesture {
  private readonly base: Project;
  /** How far the part can go. */
  private readonly room: GainRoom;
  /** What moves, around where the drag was when it was made ready. */
  private moving: Moving | null = null;
  private lastY: number;
  private moved = 0;
  private change = 0;

  constructor(
    private readonly session: Session,
    private readonly grabbed: Clip,
    private readonly section: CurveSection,
    startY: number,
    private readonly luPerPixel: number,
    private readonly onClick: () => void,
  ) {
    this.base = session.project;
    this.room = sectionRoom(grabbed, section);
    this.lastY = startY;
    this.prepare();
  }

  private edit(project: Project, changeDb: number): Project {
    return moveSection(project, this.grabbed.id, this.section, changeDb);
  }

  /** Takes the sums around where the drag is now. */
  private prepare(): void {
    const { base, change, room } = this;
    this.moving = movingStates(base, (db) => this.edit(base, db), change, room);
    if (this.moving) this.session.measurer.prepare(this.moving, 'now');
  }

  move(event: PointerEvent): void {
    this.moved += (this.lastY - event.clientY) * this.luPerPixel * (event.shiftKey ? FINE : 1);
    this.lastY = event.clientY;
    const step = event.shiftKey ? 100 : 10;
    const { room, section } = this;
    const wanted = Math.round((section.db + this.moved) * step) / step - section.db;
    this.change = Math.min(room.maxDb, Math.max(room.minDb, wanted));
    const preview = this.edit(this.base, this.change);
    if (!this.moving) return this.session.setPreview(preview);
    if (!covers(lawOf(this.moving), this.change)) this.prepare();
    this.session.measurer.follow(this.moving, this.change, preview);
  }

  finish(): void {
    if (this.moved === 0) return this.onClick();
    if (this.change === 0) return this.cancel();
    this.session.do(`Part of ${this.grabbed.name} to ${gainText(this.section.db + this.change)}`, (project) =>
      this.edit(project, this.change),
    );
  }

  cancel(): void {
    this.session.setPreview(null);
  }
}

/** Drags an edge of a clip, as far as its source reaches; snaps unless Alt is held. */
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
    this.edges = new SnapEdges(session, new Set([grabbed.id]), framesPerPixel);
  }

  private edit(project: Project): Project {
    const ids = new Set([this.grabbed.id]);
    return followCrossfades(project, trimClips(project, ids, this.edge, this.at!), ids);
  }

  move(event: PointerEvent): void {
    const from = this.edge === 'start' ? this.grabbed.start : clipEnd(this.grabbed);
    const wanted = from + (event.clientX - this.startX) * this.framesPerPixel;
    this.at = wanted + (event.altKey ? 0 : this.edges.pull(wanted));
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

/** Moves clips in time, and the one that was grabbed from lane to lane; snaps unless Alt is held. */
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
    this.edges = new SnapEdges(session, ids, framesPerPixel);
  }

  private edit(project: Project): Project {
    return moveClips(project, this.ids, this.shift, { clipId: this.grabbed.id, trackId: this.toTrack });
  }

  move(event: PointerEvent): void {
    const dx = event.clientX - this.start.x;
    if (!this.started && Math.hypot(dx, event.clientY - this.start.y) < START_DISTANCE) return;
    this.started = true;
    const shift = Math.round(dx * this.framesPerPixel);
    const { start, length } = this.grabbed;
    this.shift = shift + (event.altKey ? 0 : this.edges.pull(start + shift, start + length + shift));
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
