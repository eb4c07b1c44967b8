import type { Finding } from '@/core/check/findings/finding';
import type { Thresholds } from '@/core/check/findings/thresholds';
import { USUAL_THRESHOLDS } from '@/core/check/findings/thresholds';
import type { Target } from '@/core/check/target';
import type { Id, Project } from '../model';

/** What something is checked by. */
export type CheckedBy = Pick<Project, 'target' | 'otherTargets' | 'thresholds'>;

/** All targets in force, the leading one first. */
export const targetsOf = ({
  target,
  otherTargets,
}: Pick<CheckedBy, 'target' | 'otherTargets'>): readonly Target[] => [target, ...otherTargets];

const same = (a: Target | null, b: Target): boolean => a !== null && JSON.stringify(a) === JSON.stringify(b);

/** The deliveries of a programme that gets another leading target: those that had the one before go with it, others keep their own. */
export function followTarget<T extends object>(
  project: T & { readonly target: Target },
  next: Target,
): Partial<T> {
  if (!('deliveries' in project)) return {};
  const { deliveries } = project as unknown as Project;
  const follows = deliveries.map((one) =>
    same(one.target, project.target) ? { ...one, target: next } : one,
  );
  return { deliveries: follows } as unknown as Partial<T>;
}

/** Puts a target in force besides those there are; one of the same id gives way to it. */
export function addTarget<T extends CheckedBy>(project: T, target: Target): T {
  if (project.target.id === target.id) return { ...project, ...followTarget(project, target), target };
  const at = project.otherTargets.findIndex(({ id }) => id === target.id);
  const otherTargets = at < 0 ? [...project.otherTargets, target] : project.otherTargets.with(at, target);
  return { ...project, otherTargets };
}

/** Takes a target out; the one that leads stays. */
export const removeTarget = <T extends CheckedBy>(project: T, id: Id): T => ({
  ...project,
  otherTargets: project.otherTargets.filter((target) => target.id !== id),
});

/** Has another target lead; the one that led stays in force besides. */
export function leadTarget<T extends CheckedBy>(project: T, id: Id): T {
  const next = project.otherTargets.find((target) => target.id === id);
  if (!next) return project;
  return {
    ...project,
    ...followTarget(project, next),
    target: next,
    otherTargets: project.otherTargets.map((target) => (target === next ? project.target : target)),
  };
}

/** Has a finding stay as it is. */
export const acceptFinding = (
  project: Project,
  { id, sentence }: Pick<Finding, 'id' | 'sentence'>,
  note: string,
): Project => ({
  ...project,
  accepted: [...project.accepted.filter((one) => one.id !== id), { id, sentence, note }],
});

/** Takes that back. */
export const unacceptFinding = (project: Project, id: Id): Project => ({
  ...project,
  accepted: project.accepted.filter((one) => one.id !== id),
});

/** Accepts where the sound differs from the timelines it was placed from. */
export const acceptCutFaults = (project: Project): Project => ({ ...project, cutFaults: [] });

/** The thresholds in force. */
export const thresholdsOf = ({ thresholds }: Pick<CheckedBy, 'thresholds'>): Thresholds => ({
  ...USUAL_THRESHOLDS,
  ...thresholds,
});

/** @param value `null`: as usual again */
export function setThreshold<T extends CheckedBy>(
  project: T,
  key: keyof Thresholds,
  value: number | null,
): T {
  const others = Object.fromEntries(
    Object.entries(project.thresholds).filter(([name]) => name !== key),
  ) as Project['thresholds'];
  return {
    ...project,
    thresholds: value === null || value === USUAL_THRESHOLDS[key] ? others : { ...others, [key]: value },
  };
}
