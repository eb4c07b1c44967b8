import { array, mixed, number, object, string } from 'yup';
import { curveReasonOf } from '@/core/programme/curveReason';
import { isFadeShape, limiterShape, SEGMENT_SHAPES } from '@/core/programme/projectSchema';
import type {
  BalancePoint,
  Clip,
  CurvePoint,
  FadeShape,
  Limiter,
  SegmentShape,
} from '@/core/programme/model';
import type { CutPoint, CutSound } from './cut';
import { damaged, isObject, seconds, type Json } from './otioJson';

/** Under these names stands in the metadata of a clip, a track and a timeline what the format has no words for. */
const OF_CLIP = 'dengung_clip';
const OF_BUS = 'dengung_bus';

/** More points than a curve of hours would have. */
const MOST_POINTS = 100_000;

type TimeOf = (frames: number) => Json;

const shapeOf = (shape: unknown): { shape?: SegmentShape } => {
  const known = SEGMENT_SHAPES.find((one) => one === shape);
  return known ? { shape: known } : {};
};

/** Points of a gain over time: time in the media or on the track, dB, and the shape of the segment that begins there. */
export const pointsTold = (curve: readonly CurvePoint[], time: TimeOf): Json[] =>
  curve.map(({ at, ...point }) => ({ time: time(at), ...point }));

/** @throws CutError when they are no points of such a value */
function pointsIn<T extends 'db' | 'balance'>(
  points: unknown,
  value: T,
): (Record<T, number> & { readonly seconds: number; readonly shape?: SegmentShape })[] {
  if (!Array.isArray(points) || points.length > MOST_POINTS)
    throw damaged('a gain over time is no list of points');
  return points.map((point: unknown) => {
    const read = isObject(point) ? point[value] : null;
    if (!isObject(point) || typeof read !== 'number' || !Number.isFinite(read))
      throw damaged(`a point of a ${value === 'db' ? 'gain' : 'balance'} over time has no value`);
    const place = seconds(point['time'], 'a point of a gain');
    return { ...({ [value]: read } as Record<T, number>), seconds: place, ...shapeOf(point['shape']) };
  });
}

/** The points of a gain over time. @throws CutError when they are none */
export const gainPointsIn = (points: unknown): CutPoint[] => pointsIn(points, 'db');

const told = {
  fadeInShape: mixed<FadeShape>().test((shape) => shape === undefined || isFadeShape(shape)),
  fadeOutShape: mixed<FadeShape>().test((shape) => shape === undefined || isFadeShape(shape)),
  balance: number().min(-1).max(1),
  channelDb: array().of(number().required().min(-1000).max(1000)).max(32),
  limiter: limiterShape.default(undefined).optional(),
  curveReason: object({
    kind: string().required().oneOf(['ducked', 'evened']),
    of: string().defined().max(1_000_000),
  })
    .default(undefined)
    .optional(),
};
const soundShape = object(told);

/**
 * What a clip sounds like besides its gain and its place, for its metadata; nothing where all is as usual.
 * @param besidesDb what its track gives it: it was added to its gain, so it raises the ceiling of its limiter
 */
export function soundTold(clip: Clip, besidesDb: number, time: TimeOf): Json {
  const { fadeIn, fadeOut, fadeInShape, fadeOutShape, balance, balanceCurve, channelDb, limiter } = clip;
  const reason = curveReasonOf(clip);
  const more = {
    ...(fadeIn > 0 && fadeInShape !== 'equalPower' && { fadeInShape }),
    ...(fadeOut > 0 && fadeOutShape !== 'equalPower' && { fadeOutShape }),
    ...(balance !== 0 && { balance }),
    ...(channelDb.length > 0 && { channelDb }),
    ...(reason && { curveReason: { kind: reason.kind, of: reason.of } }),
    ...(limiter && { limiter: { ...limiter, ceilingDbtp: limiter.ceilingDbtp + besidesDb } }),
    ...(balanceCurve.length > 0 && {
      balancePoints: balanceCurve.map(({ at, ...point }: BalancePoint) => ({ time: time(at), ...point })),
    }),
  };
  return Object.keys(more).length > 0 ? { [OF_CLIP]: more } : {};
}

/** What a clip's metadata say of its sound; nothing where they say nothing that makes sense. */
export function soundIn(metadata: unknown): CutSound {
  const more = isObject(metadata) ? metadata[OF_CLIP] : null;
  if (!isObject(more) || !soundShape.isValidSync(more, { strict: true })) return {};
  const known = Object.fromEntries(Object.entries(more).filter(([key]) => key in told)) as CutSound;
  const points: unknown = (more as Json)['balancePoints'];
  return points === undefined ? known : { ...known, balancePoints: pointsIn(points, 'balance') };
}

/** The metadata without what is written anew. */
export const withoutOurs = (metadata: unknown): Json =>
  Object.fromEntries(
    Object.entries(isObject(metadata) ? metadata : {}).filter(([key]) => key !== OF_CLIP && key !== OF_BUS),
  );

/** What lies on a track or a whole programme. */
interface Bus {
  readonly curve: readonly CurvePoint[];
  readonly limiter: Limiter | null;
}

export function busTold({ curve, limiter }: Bus, time: TimeOf): Json {
  if (curve.length === 0 && !limiter) return {};
  return {
    [OF_BUS]: { ...(curve.length > 0 && { points: pointsTold(curve, time) }), ...(limiter && { limiter }) },
  };
}

/** What the metadata of a track or a timeline say of what lies on it. @throws CutError when its points are none */
export function busIn(metadata: unknown): {
  readonly curve: readonly CutPoint[];
  readonly limiter: Limiter | null;
} {
  const more = isObject(metadata) ? metadata[OF_BUS] : null;
  if (!isObject(more)) return { curve: [], limiter: null };
  const limiter = more['limiter'];
  return {
    curve: 'points' in more ? gainPointsIn(more['points']) : [],
    limiter: limiterShape.isValidSync(limiter, { strict: true }) && limiter ? (limiter as Limiter) : null,
  };
}
