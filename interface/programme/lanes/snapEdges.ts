import { bisectCenter } from 'd3-array';
import { clipEnd, type Id } from '@/core/programme/model';
import { tickStep } from '../../ui/tickStep';
import type { Session } from '../../session/session';

/** Pixels within which a drag snaps to a place. */
const SNAP_PIXELS = 7;

/** Places that a drag snaps to: the start, the playhead, the range, markers, the edges of all clips that it does not hold; then the ruler's lines. */
export class SnapEdges {
  private readonly edges: number[];
  private readonly reach: number;
  private readonly grid: number;

  constructor(session: Session, held: ReadonlySet<Id>, framesPerPixel: number) {
    const { project, state } = session;
    this.edges = [0, state.playhead, ...project.markers.map(({ at }) => at)];
    if (state.range) this.edges.push(state.range.from, state.range.to);
    for (const clip of project.clips) if (!held.has(clip.id)) this.edges.push(clip.start, clipEnd(clip));
    this.edges.sort((a, b) => a - b);
    this.reach = SNAP_PIXELS * framesPerPixel;
    this.grid = tickStep(project.sampleRate / framesPerPixel) * project.sampleRate;
  }

  /** How far the nearest place within reach is from where one of these frames is; 0 when none is. */
  pull(...frames: readonly number[]): number {
    const closest = (place: (frame: number) => number): number =>
      frames
        .map((frame) => place(frame) - frame)
        .reduce((best, by) => (Math.abs(by) < Math.abs(best) ? by : best), Infinity);
    for (const by of [
      closest((frame) => this.edges[bisectCenter(this.edges, frame)]!),
      closest((frame) => Math.round(frame / this.grid) * this.grid),
    ])
      if (Math.abs(by) <= this.reach) return by;
    return 0;
  }
}
