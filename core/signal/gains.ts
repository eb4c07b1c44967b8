import { ownDb } from '@/core/programme/clipGain';
import { AS_RECORDED, type Track } from '@/core/programme/model';
import type { ClipSound } from './clipSound';
import type { Piece } from './piece';
import { ALWAYS, plainStation } from './station';

const raised = (piece: Piece, db: number): Piece =>
  db === 0 ? piece : { ...piece, gainDb: piece.gainDb + db };

const keyOf = (db: number): readonly number[] => (db === 0 ? [] : [db]);

const clipGainDb = ({ clip, groupsDb }: ClipSound): number => ownDb(clip, groupsDb);

/** A clip's gain, with its trim and the gains of its groups. */
export const clipGain = plainStation<ClipSound>({
  name: 'gain',
  key: (sound) => keyOf(clipGainDb(sound)),
  difference: (a, b) => (clipGainDb(a) === clipGainDb(b) ? null : ALWAYS),
  apply: (piece, sound) => raised(piece, clipGainDb(sound)),
  asRecorded: (project) => ({
    ...project,
    groups: project.groups.map((group) => ({ ...group, gain: AS_RECORDED })),
    clips: project.clips.map((clip) => ({ ...clip, gain: AS_RECORDED, trimDb: 0 })),
  }),
});

/** The gain of a track, on all its clips together. */
export const trackGain = plainStation<Track>({
  name: 'track gain',
  key: ({ gainDb }) => keyOf(gainDb),
  difference: (a, b) => (a.gainDb === b.gainDb ? null : ALWAYS),
  apply: (piece, { gainDb }) => raised(piece, gainDb),
  asRecorded: (project) => ({
    ...project,
    tracks: project.tracks.map((track) => ({ ...track, gainDb: 0 })),
  }),
});
