/** A way of counting frames of picture. */
export interface FrameRate {
  readonly id: string;
  readonly name: string;
  /** Frames that timecode counts to a second, and how many there really are. */
  readonly nominal: number;
  readonly perSecond: number;
  /** Numbers are left out so that timecode keeps step with the clock. */
  readonly drop: boolean;
}

const rate = (id: string, nominal: number, perSecond = nominal, drop = false): FrameRate => ({
  id,
  name: drop ? `${id.replace('df', '')} drop` : id,
  nominal,
  perSecond,
  drop,
});

/** Source: SMPTE ST 12-1. */
export const FRAME_RATES: readonly FrameRate[] = [
  rate('23.976', 24, 24_000 / 1001),
  rate('24', 24),
  rate('25', 25),
  rate('29.97', 30, 30_000 / 1001),
  rate('29.97df', 30, 30_000 / 1001, true),
  rate('30', 30),
  rate('50', 50),
  rate('59.94', 60, 60_000 / 1001),
  rate('59.94df', 60, 60_000 / 1001, true),
  rate('60', 60),
];

const PATTERN = /^(\d{1,2}):(\d{2}):(\d{2})[:;.,](\d{2})$/;

/** Numbers left out at the start of each minute but every tenth: two at 30 frames, four at 60. */
const dropped = ({ nominal }: FrameRate): number => nominal / 15;

/**
 * Frames of picture since 00:00:00:00, of a timecode such as 01:02:03:04 or 01:02:03;04.
 * @returns `null` when it is none, or one that is left out
 * Source: SMPTE ST 12-1, clause 5.2 (drop frame).
 */
export function timecodeFrames(text: string, frameRate: FrameRate): number | null {
  const match = PATTERN.exec(text.trim());
  if (!match) return null;
  const [hours, minutes, seconds, frames] = match.slice(1).map(Number) as [number, number, number, number];
  if (minutes > 59 || seconds > 59 || frames >= frameRate.nominal) return null;
  const counted = ((hours * 60 + minutes) * 60 + seconds) * frameRate.nominal + frames;
  if (!frameRate.drop) return counted;
  if (minutes % 10 !== 0 && seconds === 0 && frames < dropped(frameRate)) return null;
  const all = hours * 60 + minutes;
  return counted - dropped(frameRate) * (all - Math.floor(all / 10));
}

const two = (value: number): string => String(value).padStart(2, '0');

/** The timecode of a frame of picture. */
export function timecodeOf(frame: number, frameRate: FrameRate): string {
  const { nominal, drop } = frameRate;
  let counted = Math.round(frame);
  if (drop) {
    const left = dropped(frameRate);
    const perTen = nominal * 600 - left * 9;
    const perMinute = nominal * 60 - left;
    const tens = Math.floor(counted / perTen);
    const within = counted % perTen;
    counted += left * 9 * tens + (within >= left ? left * Math.floor((within - left) / perMinute) : 0);
  }
  const seconds = Math.floor(counted / nominal);
  return `${two(Math.floor(seconds / 3600))}:${two(Math.floor(seconds / 60) % 60)}:${two(seconds % 60)}${drop ? ';' : ':'}${two(counted % nominal)}`;
}

/** Seconds of a timecode; `null` when it is none. */
export function timecodeSeconds(text: string, frameRate: FrameRate): number | null {
  const frames = timecodeFrames(text, frameRate);
  return frames === null ? null : frames / frameRate.perSecond;
}
