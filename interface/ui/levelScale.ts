import { scaleLinear, type ScaleLinear } from 'd3-scale';

/** Where levels stand, CSS pixels from the top; held at the edges. */
export type LevelScale = ScaleLinear<number, number>;

/** @param top LU at the upper edge @param bottom LU at the lower one @param height CSS pixels */
export const levelScale = (top: number, bottom: number, height: number): LevelScale =>
  scaleLinear([top, bottom], [0, height]).clamp(true);

/** Levels to be labelled, the target among them; none on the lower edge, where its label would be cut. */
export function levelTicks(scale: LevelScale, about: number): number[] {
  const bottom = Math.min(...scale.domain());
  return scale.ticks(about).filter((lu) => lu > bottom);
}
