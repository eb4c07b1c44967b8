import { balanceAt, balanceCurveOf, sameBalance } from '../balanceCurve';
import type { BalancePoint, Clip, Id, Project, SegmentShape } from '../model';

/** The balance of a clip at a place of its source: over time where it has points, else throughout. */
export const clipBalanceAt = ({ balanceCurve, balance }: Clip, at: number): number =>
  balanceCurve.length > 0 ? balanceAt(balanceCurve, at) : balance;

function withBalanceCurve(
  project: Project,
  clipId: Id,
  edit: (curve: readonly BalancePoint[], clip: Clip) => readonly BalancePoint[],
): Project {
  let changed = false;
  const clips = project.clips.map((clip) => {
    if (clip.id !== clipId) return clip;
    const balanceCurve = balanceCurveOf(edit(clip.balanceCurve, clip));
    if (sameBalance(balanceCurve, clip.balanceCurve)) return clip;
    changed = true;
    return { ...clip, balanceCurve };
  });
  return changed ? { ...project, clips } : project;
}

/**
 * Sets a point of a clip's balance over time, in place of one that is there.
 * @param at frame of its source @param balance −1 (left only) to 1 (right only); as it is there when left out
 */
export function setBalancePoint(project: Project, clipId: Id, at: number, balance?: number): Project {
  const place = Math.round(at);
  return withBalanceCurve(project, clipId, (curve, clip) => {
    const there = curve.find((point) => point.at === place);
    return [...curve, { ...there, at: place, balance: balance ?? clipBalanceAt(clip, place) }];
  });
}

/** Moves a point in time; not past those beside it. */
export function moveBalancePoint(project: Project, clipId: Id, at: number, to: number): Project {
  return withBalanceCurve(project, clipId, (curve) => {
    const index = curve.findIndex((point) => point.at === at);
    const [before, after] = [curve[index - 1], curve[index + 1]];
    const held = Math.min(
      (after?.at ?? Infinity) - 1,
      Math.max((before?.at ?? -Infinity) + 1, Math.round(to)),
    );
    return curve.map((point) => (point.at === at ? { ...point, at: held } : point));
  });
}

/** Says how the segment goes that begins at a point. @param shape straight when left out */
export function shapeBalance(project: Project, clipId: Id, at: number, shape?: SegmentShape): Project {
  return withBalanceCurve(project, clipId, (curve) =>
    curve.map((point) => {
      if (point.at !== at) return point;
      const plain = { at, balance: point.balance };
      return shape ? { ...plain, shape } : plain;
    }),
  );
}

/** Takes a point out. With the last of them the balance it had stays throughout. */
export function removeBalancePoint(project: Project, clipId: Id, at: number): Project {
  const clip = project.clips.find(({ id }) => id === clipId);
  if (clip?.balanceCurve.length === 1)
    return turnBalanceCurveOff(project, clipId, clip.balanceCurve[0]!.balance);
  return withBalanceCurve(project, clipId, (curve) => curve.filter((point) => point.at !== at));
}

/** Takes the balance over time off a clip. @param balance what it has throughout from now on */
export function turnBalanceCurveOff(project: Project, clipId: Id, balance: number): Project {
  return {
    ...project,
    clips: project.clips.map((clip) => (clip.id === clipId ? { ...clip, balance, balanceCurve: [] } : clip)),
  };
}
