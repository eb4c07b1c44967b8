import { AS_RECORDED, type Project } from './model';

/** The programme as its sources were recorded: every gain, curve, trim and balance at nothing. Cuts, places and fades stay. */
export function asRecorded(project: Project): Project {
  return {
    ...project,
    tracks: project.tracks.map((track) => ({ ...track, gainDb: 0 })),
    groups: project.groups.map((group) => ({ ...group, gain: AS_RECORDED })),
    clips: project.clips.map((clip) => ({
      ...clip,
      gain: AS_RECORDED,
      trimDb: 0,
      channelDb: [],
      balance: 0,
      curve: [],
    })),
  };
}

/** The same programme louder or quieter as a whole, for listening: no limit of what a track can have holds it. */
export function shifted(project: Project, db: number): Project {
  return { ...project, tracks: project.tracks.map((track) => ({ ...track, gainDb: track.gainDb + db })) };
}
