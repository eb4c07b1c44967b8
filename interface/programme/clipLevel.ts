import type { ClipLevel } from '@/core/check/clipLevel';
import { figure, signed } from '@/core/text/figures';

/** “−26.5 LUFS, 3.5 LU under the target”. */
export function levelWords({ lufs, relative, standing, ungated }: ClipLevel): string {
  if (lufs === null || relative === null) return 'no loudness measured';
  const measured = `${figure(lufs)} LUFS${ungated ? ' (ungated: shorter than 400 ms)' : ''}`;
  if (standing === 'within') return `${measured}, on the target`;
  return `${measured}, ${figure(Math.abs(relative))} LU ${standing} the target`;
}

/** “+3.0 dB”, with two decimals only where they matter. */
export function gainText(db: number): string {
  const tenths = Math.round(db * 10);
  return `${signed(db, Math.abs(db * 10 - tenths) < 0.005 ? 1 : 2)} dB`;
}
