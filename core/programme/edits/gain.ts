import { clampGain, type GainEntry } from '../gainField';
import { heldClips } from '../heldChange';
import { clearCurves } from './sections';
import { AS_RECORDED, type Clip, type ClipGain, type GainReason, type Id, type Project } from '../model';

function withGains(project: Project, gainFor: (clip: Clip) => ClipGain | null): Project {
  return {
    ...project,
    clips: project.clips.map((clip) => {
      const gain = gainFor(clip);
      return gain ? { ...clip, gain } : clip;
    }),
  };
}

function moved(clip: Clip, db: number, reason: GainReason): ClipGain | null {
  const next = clampGain(db);
  return next === clip.gain.db ? null : { db: next, lastChangeDb: next - clip.gain.db, reason };
}

/** Sets or changes the gain of clips by hand. Changed, all go as far as the first can: their balance stays. */
export function changeGain(project: Project, clipIds: ReadonlySet<Id>, entry: GainEntry): Project {
  const by = entry.kind === 'change' ? heldClips(project, clipIds, entry.db).db : 0;
  return withGains(project, (clip) =>
    clipIds.has(clip.id)
      ? moved(clip, entry.kind === 'set' ? entry.db : clip.gain.db + by, { kind: 'byHand' })
      : null,
  );
}

/** 0 dB again, and no reason; what was there is its last change. */
export const takenOff = (gain: ClipGain): ClipGain =>
  gain.db === 0 && gain.reason.kind === 'asRecorded'
    ? gain
    : { ...AS_RECORDED, lastChangeDb: gain.db === 0 ? 0 : -gain.db };

/** Puts clips back to the gain they were recorded with: 0 dB, no reason, none over time. */
export function resetGain(project: Project, clipIds: ReadonlySet<Id>): Project {
  return withGains(clearCurves(project, clipIds), (clip) =>
    clipIds.has(clip.id) ? takenOff(clip.gain) : null,
  );
}

/** Gives clips the gains that were worked out for them. */
export function applyGains(
  project: Project,
  gains: ReadonlyMap<Id, { readonly db: number; readonly reason: GainReason }>,
): Project {
  return withGains(project, (clip) => {
    const gain = gains.get(clip.id);
    if (!gain) return null;
    const db = clampGain(gain.db);
    return { db, lastChangeDb: db - clip.gain.db, reason: gain.reason };
  });
}
