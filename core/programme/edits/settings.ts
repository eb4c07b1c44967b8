import { balanceCurveOf } from '../balanceCurve';
import { curveOf } from '../curve';
import { clipEnd, type Clip, type CurvePoint, type MonoLaw, type Project, type TimeDisplay } from '../model';

/** Changes what the programme is laid into. @param layoutId one of `PROGRAMME_LAYOUTS` */
export function setLayout(project: Project, layoutId: string): Project {
  return { ...project, layoutId };
}

export function setMonoLaw(project: Project, monoLaw: MonoLaw): Project {
  return { ...project, monoLaw };
}

export function setTimeDisplay(project: Project, time: TimeDisplay): Project {
  return { ...project, time };
}

/** Rates a programme can have, Hz. */
export const PROGRAMME_RATES = [32_000, 44_100, 48_000, 88_200, 96_000, 176_400, 192_000] as const;

/**
 * Gives the programme another rate: every place stays where it was in time, to the nearest frame; clips that touched
 * still touch.
 */
export function setSampleRate(project: Project, sampleRate: number): Project {
  if (sampleRate === project.sampleRate) return project;
  const scale = (frames: number): number => Math.round((frames * sampleRate) / project.sampleRate);
  const curveAt = (curve: readonly CurvePoint[]) =>
    curveOf(curve.map((point) => ({ ...point, at: scale(point.at) })));
  const scaled = (clip: Clip): Clip => {
    const start = scale(clip.start);
    const length = Math.max(1, scale(clipEnd(clip)) - start);
    const fadeIn = Math.min(length, scale(clip.fadeIn));
    return {
      ...clip,
      start,
      length,
      sourceStart: scale(clip.sourceStart),
      fadeIn,
      fadeOut: Math.min(length - fadeIn, scale(clip.fadeOut)),
      curve: curveAt(clip.curve),
      balanceCurve: balanceCurveOf(clip.balanceCurve.map((point) => ({ ...point, at: scale(point.at) }))),
    };
  };
  return {
    ...project,
    sampleRate,
    clips: project.clips.map(scaled),
    tracks: project.tracks.map((track) => ({ ...track, curve: curveAt(track.curve) })),
    curve: curveAt(project.curve),
    markers: project.markers.map((marker) => ({ ...marker, at: scale(marker.at) })),
  };
}
