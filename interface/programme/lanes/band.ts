import type { Gesture } from '../../editing/useGesture';
import { START_DISTANCE } from './laneScale';

/** What is dragged over the lanes: a range of time over some tracks. */
export interface Band {
  /** Programme frames. */
  readonly from: number;
  readonly to: number;
  /** Client pixels. */
  readonly top: number;
  readonly bottom: number;
}

/** What a band does. */
interface BandUse {
  /** Selects what it touches. */
  readonly select: (band: Band) => void;
  /** Selects again what was selected before it. */
  readonly restore: () => void;
  /** A press and release in one place draws nothing. */
  readonly click: () => void;
}

/** Draws a band over the lanes, which selects what it touches as it goes. */
export class BandGesture implements Gesture {
  private started = false;

  /** @param start client pixels, and the frame of the programme there */
  constructor(
    private readonly start: { readonly x: number; readonly y: number; readonly frame: number },
    private readonly framesPerPixel: number,
    private readonly onBand: (band: Band | null) => void,
    private readonly use: BandUse,
  ) {}

  move({ clientX, clientY }: PointerEvent): void {
    const { x, y, frame } = this.start;
    if (!this.started && Math.hypot(clientX - x, clientY - y) < START_DISTANCE) return;
    this.started = true;
    const other = frame + (clientX - x) * this.framesPerPixel;
    const band = {
      from: Math.min(frame, other),
      to: Math.max(frame, other),
      top: Math.min(y, clientY),
      bottom: Math.max(y, clientY),
    };
    this.onBand(band);
    this.use.select(band);
  }

  finish(): void {
    this.onBand(null);
    if (!this.started) this.use.click();
  }

  cancel(): void {
    this.onBand(null);
    this.use.restore();
  }
}
