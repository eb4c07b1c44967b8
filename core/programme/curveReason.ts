import type { Clip, CurvePoint, CurveReason, Id, Project } from './model';

/** A curve in words, to tell whether it is still the one that was worked out. */
export const curveWords = (curve: readonly CurvePoint[]): string =>
  curve.map(({ at, db, shape }) => `${at}:${db}${shape ?? ''}`).join(' ');

/** How a clip's gain curve came about; `null` where a hand set it, or there is none. */
export function curveReasonOf({ curve, curveReason }: Clip): CurveReason | null {
  if (!curveReason || curve.length === 0) return null;
  return curveReason.points === curveWords(curve) ? curveReason : null;
}

/** A clip has points that did not come about in this way: a hand set them, or they were worked out for something else. */
export const curveOtherwise = (clip: Clip, kind: CurveReason['kind']): boolean =>
  clip.curve.length > 0 && curveReasonOf(clip)?.kind !== kind;

const bare = new WeakMap<Clip, Clip>();

/** A clip without its gain curve: the same object for the same clip. */
export function withoutCurve(clip: Clip): Clip {
  if (clip.curve.length === 0) return clip;
  const known = bare.get(clip);
  if (known) return known;
  const without: Clip = { ...clip, curve: [], curveReason: null };
  bare.set(clip, without);
  return without;
}

/** A difference smaller than this is none, dB: what is worked out again stays as it is to the bit. */
const SAME_DB = 0.005;

/** A curve that was worked out for a clip; the one that the clip has where that hardly differs. */
export function settledCurve(curve: readonly CurvePoint[], clip: Clip): readonly CurvePoint[] {
  const same =
    curve.length === clip.curve.length &&
    curve.every(({ at, db, shape }, i) => {
      const there = clip.curve[i]!;
      return there.at === at && there.shape === shape && Math.abs(there.db - db) < SAME_DB;
    });
  return same ? clip.curve : curve;
}

/** A curve that was worked out, and for what. */
export interface WorkedCurve {
  readonly curve: readonly CurvePoint[];
  readonly kind: CurveReason['kind'];
  readonly of: string;
}

/** Gives clips the curves that were worked out for them, in place of those they have. */
export function applyCurves(project: Project, curves: ReadonlyMap<Id, WorkedCurve>): Project {
  if (curves.size === 0) return project;
  return {
    ...project,
    clips: project.clips.map((clip) => {
      const worked = curves.get(clip.id);
      if (!worked) return clip;
      const { curve, kind, of } = worked;
      const curveReason = curve.length === 0 ? null : { kind, points: curveWords(curve), of };
      return { ...clip, curve, curveReason };
    }),
  };
}
