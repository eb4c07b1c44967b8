import { levelScale, type LevelScale } from '../../ui/levelScale';

/** A lane's scale: LU over and under the horizon that fit on it. */
export const LANE_TOP_LU = 12;
export const LANE_BOTTOM_LU = -30;
const LANE_SPAN_LU = LANE_TOP_LU - LANE_BOTTOM_LU;

/** Height of the strip with the clip's name at the top of a lane, CSS pixels. */
export const NAME_STRIP = 17;
export const LOWEST_LANE = 52;
export const HIGHEST_LANE = 480;
/** What lanes take by themselves: all in sight as long as they stay legible. */
const LOWEST_FITTED = 76;
const HIGHEST_FITTED = 168;
/** Under this a track's head shows its name and its buttons only. */
export const FULL_HEAD = 74;
export const RULER_HEIGHT = 22;
/** Clips narrower than this are drawn, not built: thousands of them stay quick, and there is nothing in them to read. */
export const DRAWN_WIDTH = 26;

/** Where a loudness relative to the horizon stands, CSS pixels from the top of `height`; held at the edges. */
export const yOf = (lu: number, height: number): number => laneLevels(height)(lu);

/** Scales by height: one is asked for at every pixel of a line. */
const scales = new Map<number, LevelScale>();

/** A lane's scale. @param height of the lane without the strip with the name, CSS pixels */
function laneLevels(height: number): LevelScale {
  const scale = scales.get(height) ?? levelScale(LANE_TOP_LU, LANE_BOTTOM_LU, height);
  scales.set(height, scale);
  return scale;
}

/** Height of a lane without the strip with the name. */
export const bodyHeight = (laneHeight: number): number => laneHeight - NAME_STRIP;

/**
 * Where the line of a gain over time is drawn: from the waterline, or from the horizon while there is none. Pixels from the
 * lane's top; silence lies at its foot.
 * @param relative loudness of the clip over the target, LU
 * @param db of the curve
 */
export const curveY = (relative: number | null, db: number, laneHeight: number): number =>
  Math.min(laneHeight - 3, NAME_STRIP + yOf((relative ?? 0) + db, bodyHeight(laneHeight)));

/** LU that one CSS pixel of vertical movement stands for. */
export const luPerPixel = (laneHeight: number): number => LANE_SPAN_LU / bodyHeight(laneHeight);

/**
 * Height of each lane.
 * @param factor of the height that lets all of them be in sight, as long as they stay legible
 */
export function laneHeightFor(available: number, lanes: number, factor = 1): number {
  const fitted = Math.floor(available / Math.max(1, lanes)) - 1;
  const own = Math.max(LOWEST_FITTED, Math.min(HIGHEST_FITTED, fitted));
  return Math.round(Math.max(LOWEST_LANE, Math.min(HIGHEST_LANE, own * factor)));
}

/** The height when nothing but the lanes is shown: as high as they go. */
export const bigLaneHeight = (available: number, lanes: number): number =>
  Math.max(LOWEST_FITTED, Math.min(HIGHEST_LANE, Math.floor(available / Math.max(1, lanes)) - 1));

/** Pixels a press must move to be a drag. */
export const START_DISTANCE = 4;

/** Most and fewest pixels a second of programme can take. */
export const MAX_PIXELS_PER_SECOND = 2000;
export const MIN_PIXELS_PER_SECOND = 0.05;
