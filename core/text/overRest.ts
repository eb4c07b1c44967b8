import { signed } from './figures';

/** Speech further over the rest than this is as good as alone: distances are counted up to here, LU. */
export const FAR_LU = 60;

/** How far speech is over the rest; one that is cut off at ±60 LU says so. */
export function overRestText(lu: number): string {
  if (lu >= FAR_LU) return '60 LU or more';
  return lu <= -FAR_LU ? '−60 LU or less' : `${signed(lu)} LU`;
}
