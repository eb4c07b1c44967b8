import { ownDb } from '@/core/programme/clipGain';
import { AS_RECORDED } from '@/core/programme/model';
import type { ClipSound } from './clipSound';
import type { TrackSound } from './trackSound';
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
export const trackGain = plainStation<TrackSound>({
  name: 'track gain',
  key: ({ track }) => keyOf(track.gainDb),
  difference: (a, b) => (a.track.gainDb === b.track.gainDb ? null : ALWAYS),
  apply: (piece, { track }) => raised(piece, track.gainDb),
  asRecorded: (project) => ({
    ...project,
    tracks: project.tracks.map((track) => ({ ...track, gainDb: 0 })),
  }),
});
