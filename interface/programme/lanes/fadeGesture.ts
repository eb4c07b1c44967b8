import { fadeOf, fadeRoom, setFades, type FadeSide } from '@/core/programme/edits/fades';
import type { Clip, Project } from '@/core/programme/model';
import type { Gesture } from '../../editing/useGesture';
import type { Session } from '../../session/session';
import { secondsText } from '../../ui/words';

const FINE = 0.1;

/** Drags the end of a fade at a clip's corner. Shift slows it down tenfold. */
export class FadeGesture implements Gesture {
  private readonly before: number;
  private readonly room: number;
  private lastX: number;
  private pixels = 0;
  private length: number;

  constructor(
    private readonly session: Session,
    private readonly grabbed: Clip,
    private readonly side: FadeSide,
    private readonly startX: number,
    private readonly framesPerPixel: number,
    private readonly onClick: () => void,
  ) {
    this.before = fadeOf(grabbed, side).length;
    this.room = fadeRoom(grabbed, side);
    this.lastX = startX;
    this.length = this.before;
  }

  private edit(project: Project): Project {
    return setFades(project, new Set([this.grabbed.id]), this.side, { length: this.length });
  }

  move(event: PointerEvent): void {
    this.pixels += (event.clientX - this.lastX) * (event.shiftKey ? FINE : 1);
    this.lastX = event.clientX;
    const inward = this.side === 'in' ? this.pixels : -this.pixels;
    this.length = Math.round(Math.min(this.room, Math.max(0, this.before + inward * this.framesPerPixel)));
    this.session.setPreview(this.edit(this.session.project));
  }

  finish(): void {
    if (this.lastX === this.startX) return this.onClick();
    if (this.length === this.before) return this.cancel();
    const { name } = this.grabbed;
    const seconds = this.length / this.session.project.sampleRate;
    this.session.do(`Fade ${this.side} ${name} over ${secondsText(seconds)}`, (project) =>
      this.edit(project),
    );
  }

  cancel(): void {
    this.session.setPreview(null);
  }
}
