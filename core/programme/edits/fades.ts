import type { Clip, FadeShape, Id, Project } from '../model';

export type FadeSide = 'in' | 'out';

/** The fade at one side of a clip. */
export interface Fade {
  /** Frames. */
  readonly length: number;
  readonly shape: FadeShape;
}

export const fadeOf = (clip: Clip, side: FadeSide): Fade =>
  side === 'in'
    ? { length: clip.fadeIn, shape: clip.fadeInShape }
    : { length: clip.fadeOut, shape: clip.fadeOutShape };

const withFade = (clip: Clip, side: FadeSide, { length, shape }: Fade): Clip =>
  side === 'in'
    ? { ...clip, fadeIn: length, fadeInShape: shape }
    : { ...clip, fadeOut: length, fadeOutShape: shape };

/** How long a fade of a clip can be, frames: up to where the other begins. */
export const fadeRoom = (clip: Clip, side: FadeSide): number =>
  clip.length - (side === 'in' ? clip.fadeOut : clip.fadeIn);

/** Changes the fades of clips at one side; each as far as its clip has room. */
export function setFades(
  project: Project,
  clipIds: ReadonlySet<Id>,
  side: FadeSide,
  change: Partial<Fade>,
): Project {
  let any = false;
  const clips = project.clips.map((clip) => {
    if (!clipIds.has(clip.id)) return clip;
    const before = fadeOf(clip, side);
    const wanted = { ...before, ...change };
    const length = Math.min(fadeRoom(clip, side), Math.max(0, Math.round(wanted.length)));
    if (length === before.length && wanted.shape === before.shape) return clip;
    any = true;
    return withFade(clip, side, { length, shape: wanted.shape });
  });
  return any ? { ...project, clips } : project;
}

/** Gives clips the fades of another, each as far as its clip has room. @param scale of its frames, where it has another rate */
export const copyFades = (project: Project, clipIds: ReadonlySet<Id>, from: Clip, scale = 1): Project =>
  (['in', 'out'] as const).reduce((state, side) => {
    const { length, shape } = fadeOf(from, side);
    return setFades(state, clipIds, side, { length: length * scale, shape });
  }, project);

/** What the fades for several clips come to. */
export interface FadesForAll {
  /** Clips that get one, or two. */
  readonly faded: readonly Id[];
  /** Clips left alone: they have their own already, or are too short. */
  readonly own: number;
  readonly short: number;
}

/** Clips at whose start or end there is nothing to fade: they have a fade, or another clip of the track goes on there without a gap. */
const wants = (clip: Clip, side: FadeSide): boolean => fadeOf(clip, side).length === 0;

/** Which of some clips have no fade yet, and room for one. @param length of each fade, frames */
export function clipsToFade({ clips }: Project, clipIds: ReadonlySet<Id>, length: number): FadesForAll {
  const faded: Id[] = [];
  let [own, short] = [0, 0];
  for (const clip of clips) {
    if (!clipIds.has(clip.id)) continue;
    if (!wants(clip, 'in') && !wants(clip, 'out')) own++;
    else if (clip.length < 2 * length) short++;
    else faded.push(clip.id);
  }
  return { faded, own, short };
}

/** Puts a fade on each side of some clips that has none; fades that are there stay. */
export function fadeAll(project: Project, clipIds: ReadonlySet<Id>, fade: Fade): Project {
  const { faded } = clipsToFade(project, clipIds, fade.length);
  const ids = new Set(faded);
  const sides: readonly FadeSide[] = ['in', 'out'];
  return sides.reduce((state, side) => {
    const without = new Set(
      state.clips.filter((clip) => ids.has(clip.id) && wants(clip, side)).map(({ id }) => id),
    );
    return setFades(state, without, side, fade);
  }, project);
}
