import type { Id, Limiter, Project } from '../model';

/** What a limiter stands on. */
export type LimiterOwner =
  | { readonly kind: 'clips'; readonly ids: ReadonlySet<Id> }
  | { readonly kind: 'tracks'; readonly ids: ReadonlySet<Id> }
  | { readonly kind: 'programme' };

/** The limiters of something, `null` for each that has none. */
export function limitersOf(project: Project, owner: LimiterOwner): readonly (Limiter | null)[] {
  if (owner.kind === 'programme') return [project.limiter];
  const all = owner.kind === 'clips' ? project.clips : project.tracks;
  return all.filter(({ id }) => owner.ids.has(id)).map(({ limiter }) => limiter);
}

const same = (a: Limiter | null, b: Limiter | null): boolean =>
  a === b ||
  (a !== null && b !== null && (Object.keys(a) as (keyof Limiter)[]).every((key) => a[key] === b[key]));

/** Gives each another limiter. @param change from what it has; `null` takes it off */
export function changeLimiters(
  project: Project,
  owner: LimiterOwner,
  change: (limiter: Limiter | null) => Limiter | null,
): Project {
  const changed = <T extends { readonly limiter: Limiter | null }>(one: T): T => {
    const limiter = change(one.limiter);
    return same(one.limiter, limiter) ? one : { ...one, limiter };
  };
  if (owner.kind === 'programme') return changed(project);
  const all = <T extends { readonly id: Id; readonly limiter: Limiter | null }>(
    list: readonly T[],
  ): readonly T[] => {
    const next = list.map((one) => (owner.ids.has(one.id) ? changed(one) : one));
    return next.every((one, i) => one === list[i]) ? list : next;
  };
  const [clips, tracks] =
    owner.kind === 'clips' ? [all(project.clips), project.tracks] : [project.clips, all(project.tracks)];
  return clips === project.clips && tracks === project.tracks ? project : { ...project, clips, tracks };
}
