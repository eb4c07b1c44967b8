import { addTrack, changeTrack, moveTrack, removeTrack } from '@/core/programme/edits/project';
import { PLAIN_TRACK, type Project, type Track } from '@/core/programme/model';
import { count } from '@/core/text/words';
import { newId } from '../session/newId';
import type { Session } from '../session/session';
import type { Command, CommandPlace } from './command';

/** The tracks of the clips that are meant. */
function tracksOf({ session, ids }: CommandPlace): readonly Track[] {
  const { clips, tracks } = session.project;
  const laid = new Set(clips.flatMap(({ id, trackId }) => (ids.has(id) ? [trackId] : [])));
  return tracks.filter(({ id }) => laid.has(id));
}

const who = (tracks: readonly Track[]): string =>
  tracks.length === 1 ? `track ${tracks[0]!.name}` : count(tracks.length, 'track');

/** Adds a track under the others. */
export function addNewTrack(session: Session): void {
  const name = `Track ${session.project.tracks.length + 1}`;
  session.do(`Add ${name}`, (project) =>
    addTrack(project, { id: newId(), name, role: 'dialogue', ...PLAIN_TRACK }),
  );
}

function each(
  place: CommandPlace,
  name: (tracks: readonly Track[]) => string,
  edit: (project: Project, track: Track) => Project,
): void {
  const tracks = tracksOf(place);
  if (tracks.length > 0)
    place.session.do(name(tracks), (project) => tracks.reduce((state, track) => edit(state, track), project));
}

function mute(place: CommandPlace): void {
  const on = !tracksOf(place).every(({ muted }) => muted);
  each(
    place,
    (tracks) => `${on ? 'Mute' : 'Unmute'} ${who(tracks)}`,
    (project, { id }) => changeTrack(project, id, { muted: on }),
  );
}

/** Moves a track by one place among the others. */
export function moveTrackBy(session: Session, { id, name }: Track, by: 1 | -1): void {
  const index = session.project.tracks.findIndex((track) => track.id === id);
  session.do(`Move track ${name} ${by < 0 ? 'up' : 'down'}`, (project) => moveTrack(project, id, index + by));
}

function move(place: CommandPlace, by: 1 | -1): void {
  const [track] = tracksOf(place);
  if (track) moveTrackBy(place.session, track, by);
}

const command = (id: string, name: string, run: Command['run']): Command => ({
  ...{ id, group: 'Tracks', name, keys: [], needs: 'selected', run },
});

/** What is done to tracks: those of the selected clips. */
export const trackCommands: readonly Command[] = [
  { ...command('track-add', 'Add a track', ({ session }) => addNewTrack(session)), needs: 'nothing' },
  command('track-mute', 'Mute or unmute the tracks of the selected clips', mute),
  command('track-solo', 'Solo the tracks of the selected clips, or end it', (place) =>
    tracksOf(place).forEach(({ id }) => place.session.listening.toggleSolo(id)),
  ),
  {
    ...command('solo-none', 'End every solo', ({ session }) =>
      session.state.soloed.forEach((id) => session.listening.toggleSolo(id)),
    ),
    needs: 'nothing',
  },
  command('track-up', 'Move the track of the selected clip up', (place) => move(place, -1)),
  command('track-down', 'Move the track of the selected clip down', (place) => move(place, 1)),
  command('track-remove', 'Remove the tracks of the selected clips, clips and all', (place) =>
    each(
      place,
      (tracks) => `Remove ${who(tracks)}`,
      (project, { id }) => removeTrack(project, id),
    ),
  ),
];
