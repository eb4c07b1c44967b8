import { changeSpeechRange } from '@/core/programme/edits/speech';
import type { TimeRange } from '@/core/loudness/levelTrack';
import type { Id, Project } from '@/core/programme/model';
import type { Gesture } from '../../editing/useGesture';
import type { Session } from '../../session/session';
import { SPEECH_FOOT, SPEECH_STRIP } from './drawClip';
import type { DrawnClip } from './useVisible';

const FINE = 0.1;
/** Pixels within which an edge is taken hold of, and above the strip within which the strip is. */
const HOLD_PIXELS = 6;
const ABOVE = 4;
/** A range keeps at least so much, seconds. */
const LEAST_SECONDS = 0.05;

/** What of a speech strip lies under a place. */
export interface SpeechHit {
  readonly sourceId: Id;
  readonly index: number;
  readonly range: TimeRange;
  /** The edge that is held; `null`: all of the range. */
  readonly edge: 'from' | 'to' | null;
}

/** The range of a clip's speech strip under a place, or its edge. @param y from the lane's top */
export function speechAt(
  { clip, source }: DrawnClip,
  { frame, y }: { readonly frame: number; readonly y: number },
  laneHeight: number,
  framesPerPixel: number,
  sampleRate: number,
): SpeechHit | null {
  if (!source?.speech || y < laneHeight - SPEECH_STRIP - SPEECH_FOOT - ABOVE || y > laneHeight) return null;
  const second = (frame - clip.start + clip.sourceStart) / sampleRate;
  const reach = (HOLD_PIXELS * framesPerPixel) / sampleRate;
  const index = source.speech.ranges.findIndex(
    ({ from, to }) => second >= from - reach && second <= to + reach,
  );
  const range = source.speech.ranges[index];
  if (!range) return null;
  const [start, end] = [Math.abs(second - range.from), Math.abs(second - range.to)];
  const edge = Math.min(start, end) > reach ? null : start < end ? 'from' : 'to';
  return { sourceId: source.id, index, range, edge };
}

/** Drags a range of the speech strip, or one of its edges. Shift slows it down tenfold. */
export class SpeechGesture implements Gesture {
  private lastX: number;
  private seconds = 0;

  constructor(
    private readonly session: Session,
    private readonly hit: SpeechHit,
    private readonly lengthSeconds: number,
    private readonly startX: number,
    private readonly secondsPerPixel: number,
    private readonly onClick: () => void,
  ) {
    this.lastX = startX;
  }

  private get moved(): TimeRange {
    const { range, edge } = this.hit;
    const { from, to } = range;
    if (edge === 'from') return { from: Math.min(to - LEAST_SECONDS, Math.max(0, from + this.seconds)), to };
    if (edge === 'to')
      return { from, to: Math.max(from + LEAST_SECONDS, Math.min(this.lengthSeconds, to + this.seconds)) };
    const by = Math.min(this.lengthSeconds - to, Math.max(-from, this.seconds));
    return { from: from + by, to: to + by };
  }

  private edit(project: Project): Project {
    return changeSpeechRange(project, this.hit.sourceId, this.hit.index, this.moved);
  }

  move(event: PointerEvent): void {
    this.seconds += (event.clientX - this.lastX) * this.secondsPerPixel * (event.shiftKey ? FINE : 1);
    this.lastX = event.clientX;
    this.session.setPreview(this.edit(this.session.project));
  }

  finish(): void {
    if (this.lastX === this.startX) return this.onClick();
    if (this.seconds === 0) return this.cancel();
    const { sources } = this.session.project;
    const name = sources.find(({ id }) => id === this.hit.sourceId)?.name ?? '';
    const what = this.hit.edge === null ? 'a range' : this.hit.edge === 'from' ? 'the start' : 'the end';
    this.session.do(`Move ${what} of speech in ${name}`, (project) => this.edit(project));
  }

  cancel(): void {
    this.session.setPreview(null);
  }
}
