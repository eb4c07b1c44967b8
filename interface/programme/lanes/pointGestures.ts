import { lawOf, movingStates, type Moving } from '@/core/measuring/moving';
import { covers } from '@/core/measuring/movingLaw';
import {
  curveOwnedBy,
  movePoints,
  ownerName,
  pointRoom,
  type CurveOwner,
  type PointRoom,
} from '@/core/programme/edits/points';
import type { CurvePoint, Project } from '@/core/programme/model';
import { count } from '@/core/text/words';
import type { Gesture } from '../../editing/useGesture';
import type { Session } from '../../session/session';
import { gainText } from '../clipLevel';
import { START_DISTANCE } from './laneScale';

const FINE = 0.1;
/** Pixels within which a level snaps. */
const SNAP_PIXELS = 5;

interface Grabbed {
  readonly owner: CurveOwner;
  /** The point that follows the pointer. */
  readonly point: CurvePoint;
  /** All that move with it, by their places. */
  readonly places: ReadonlySet<number>;
  /** Only up and down: a line between two points. */
  readonly levelOnly: boolean;
  /** Levels that it snaps to, dB. */
  readonly snaps: readonly number[];
}

/**
 * Drags points of a gain curve together: up and down, and in time once the pointer has clearly gone sideways. Shift
 * slows it down tenfold, Alt lets it pass the levels that it snaps to.
 */
export class PointGesture implements Gesture {
  private readonly base: Project;
  private readonly room: PointRoom;
  /** What moves, around where the drag was when it was made ready; `null` while it moves in time as well. */
  private moving: Moving | null = null;
  private last: { x: number; y: number };
  private db = 0;
  private pixels = 0;
  private sideways = false;
  private by = { frames: 0, db: 0 };

  /** Which of the curve's points follows the pointer, in order: none passes another. */
  readonly index: number;

  constructor(
    private readonly session: Session,
    private readonly grabbed: Grabbed,
    private readonly start: { readonly x: number; readonly y: number },
    private readonly framesPerPixel: number,
    private readonly luPerPixel: number,
    private readonly onClick: () => void,
  ) {
    this.base = session.project;
    const curve = curveOwnedBy(this.base, grabbed.owner);
    this.room = pointRoom(curve, grabbed.places);
    this.index = curve.findIndex(({ at }) => at === grabbed.point.at);
    this.last = { ...start };
    this.prepare();
  }

  private edit(project: Project, by: { readonly frames: number; readonly db: number }): Project {
    return movePoints(project, this.grabbed.owner, this.grabbed.places, by);
  }

  /** Takes the sums around where the drag is now. */
  private prepare(): void {
    const { base, room, by } = this;
    // Sums are taken of clips that move by themselves.
    if (this.grabbed.owner.kind !== 'clip') return;
    this.moving = movingStates(base, (db) => this.edit(base, { frames: 0, db }), by.db, room);
    if (this.moving) this.session.measurer.prepare(this.moving, 'now');
  }

  private snapped(db: number, free: boolean): number {
    if (free) return db;
    const reach = SNAP_PIXELS * this.luPerPixel;
    const level = this.grabbed.point.db + db;
    const near = this.grabbed.snaps.find((snap) => Math.abs(snap - level) <= reach);
    return near === undefined ? db : near - this.grabbed.point.db;
  }

  move(event: PointerEvent): void {
    const speed = event.shiftKey ? FINE : 1;
    this.db += (this.last.y - event.clientY) * this.luPerPixel * speed;
    this.pixels += (event.clientX - this.last.x) * speed;
    this.last = { x: event.clientX, y: event.clientY };
    if (!this.grabbed.levelOnly && Math.abs(event.clientX - this.start.x) > 2 * START_DISTANCE)
      this.sideways = true;
    const { room, grabbed } = this;
    const step = event.shiftKey ? 100 : 10;
    const rounded = Math.round((grabbed.point.db + this.db) * step) / step - grabbed.point.db;
    const wanted = this.snapped(rounded, event.altKey || event.shiftKey);
    const db = Math.min(room.maxDb, Math.max(room.minDb, wanted));
    const frames = this.sideways ? Math.round(this.pixels * this.framesPerPixel) : 0;
    this.by = { db, frames: Math.min(room.maxFrames, Math.max(room.minFrames, frames)) };
    const preview = this.edit(this.base, this.by);
    if (!this.moving || this.by.frames !== 0) return this.session.setPreview(preview);
    if (!covers(lawOf(this.moving), db)) this.prepare();
    this.session.measurer.follow(this.moving, db, preview);
  }

  finish(): void {
    const { by, grabbed, session } = this;
    if (this.last.x === this.start.x && this.last.y === this.start.y) return this.onClick();
    if (by.db === 0 && by.frames === 0) return this.cancel();
    const { owner, point, places } = grabbed;
    const what = places.size === 1 ? 'a point' : count(places.size, 'point');
    const where = places.size === 1 ? ` to ${gainText(point.db + by.db)}` : ` by ${gainText(by.db)}`;
    session.do(`Move ${what} of ${ownerName(this.base, owner)}${by.db === 0 ? '' : where}`, (project) =>
      this.edit(project, by),
    );
    session.selectPoints(
      owner,
      [...places].map((at) => at + by.frames),
    );
  }

  cancel(): void {
    this.session.setPreview(null);
  }
}
