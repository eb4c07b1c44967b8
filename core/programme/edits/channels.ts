import { CHANNEL_GAIN } from '../gainField';
import type { Clip, Id, Project } from '../model';

function change(project: Project, clipIds: ReadonlySet<Id>, edit: (clip: Clip) => Clip): Project {
  return { ...project, clips: project.clips.map((clip) => (clipIds.has(clip.id) ? edit(clip) : clip)) };
}

/**
 * Sets the gain of one channel of a clip's source. Held within {@link CHANNEL_GAIN}.
 * @param channel from 0, in the source's order
 */
export function setChannelDb(project: Project, clipId: Id, channel: number, db: number): Project {
  return change(project, new Set([clipId]), (clip) => {
    const source = project.sources.find(({ id }) => id === clip.sourceId);
    const channels = source?.layout.labels.length ?? 0;
    if (channel >= channels) return clip;
    const held = Math.min(CHANNEL_GAIN.max, Math.max(CHANNEL_GAIN.min, db));
    const channelDb = Array.from({ length: channels }, (_, c) =>
      c === channel ? held : (clip.channelDb[c] ?? 0),
    );
    return { ...clip, channelDb: channelDb.every((gain) => gain === 0) ? [] : channelDb };
  });
}

/** @param balance −1 (left only) to 1 (right only) */
export function setBalance(project: Project, clipIds: ReadonlySet<Id>, balance: number): Project {
  const held = Math.min(1, Math.max(-1, balance));
  return change(project, clipIds, (clip) => (clip.balance === held ? clip : { ...clip, balance: held }));
}
