import { addMarker } from '@/core/programme/edits/markers';
import { clipEnd, programmeFrames } from '@/core/programme/model';
import { placesOverLimits } from '@/core/check/findings/overLimits';
import { newId } from '../session/newId';
import type { Session } from '../session/session';
import type { Command, CommandPlace } from './command';

function go({ session, stage }: CommandPlace, frame: number): void {
  session.listening.seek(frame);
  stage?.reveal(frame / session.project.sampleRate);
}

/** The places nearest before and after the playhead among some; nothing there, nothing moves. */
function step(place: CommandPlace, places: readonly number[], direction: 1 | -1): void {
  const { session } = place;
  const now = session.state.playhead;
  const beyond = places.filter((at) => (direction > 0 ? at > now : at < now));
  if (beyond.length === 0) return;
  go(place, direction > 0 ? Math.min(...beyond) : Math.max(...beyond));
}

const edges = (session: Session): number[] => [
  ...new Set([
    0,
    ...session.project.clips.flatMap((clip) => [clip.start, clipEnd(clip)]),
    ...session.project.markers.map(({ at }) => at),
  ]),
];

const findings = ({ state, project }: Session): number[] =>
  state.programme
    ? placesOverLimits(state.programme, project.target).map(({ from }) =>
        Math.round(from * project.sampleRate),
      )
    : [];

/** From the playhead to where the range ends, or the other way round. */
function setEdge({ session }: CommandPlace, edge: 'from' | 'to'): void {
  const { range, playhead } = session.state;
  const end = programmeFrames(session.project);
  if (edge === 'from') session.listening.setRange(playhead, range && range.to > playhead ? range.to : end);
  else session.listening.setRange(range && range.from < playhead ? range.from : 0, playhead);
}

function rangeOfClips({ session, ids }: CommandPlace): void {
  const clips = session.project.clips.filter((clip) => ids.has(clip.id));
  const from = clips.reduce((least, clip) => Math.min(least, clip.start), Infinity);
  const to = clips.reduce((most, clip) => Math.max(most, clipEnd(clip)), 0);
  if (from < to) session.listening.setRange(from, to);
}

function mark({ session }: CommandPlace): void {
  const { playhead } = session.state;
  session.do('Add a marker', (project) =>
    addMarker(project, { id: newId(), at: playhead, name: `Marker ${project.markers.length + 1}` }),
  );
}

/** What is done to what is heard and to the place from which it is heard. */
export const listenCommands: readonly Command[] = [
  {
    id: 'play',
    group: 'Listen',
    name: 'Play or stop',
    keys: ['Space'],
    needs: 'nothing',
    run: ({ session }) => session.listening.playOrStop(),
  },
  {
    id: 'alone',
    group: 'Listen',
    name: 'Hear the selected clip alone, or its part in the range',
    keys: ['a'],
    needs: 'selected',
    run: ({ session, ids, focused }) =>
      session.listening.hearAlone(focused !== null && ids.has(focused) ? focused : [...ids][0]!),
  },
  {
    id: 'loop',
    group: 'Listen',
    name: 'Loop the range, or end the loop',
    keys: ['r'],
    needs: 'range',
    run: ({ session }) => session.listening.toggleLoop(),
  },
  {
    id: 'range-from',
    group: 'Listen',
    name: 'Set range start at the playhead',
    keys: [','],
    needs: 'clips',
    run: (place) => setEdge(place, 'from'),
  },
  {
    id: 'range-to',
    group: 'Listen',
    name: 'Set range end at the playhead',
    keys: ['.'],
    needs: 'clips',
    run: (place) => setEdge(place, 'to'),
  },
  {
    id: 'range-clips',
    group: 'Listen',
    name: 'Set the range to the selected clips',
    keys: ['Shift+R'],
    needs: 'selected',
    run: rangeOfClips,
  },
  {
    id: 'range-clear',
    group: 'Listen',
    name: 'Clear range',
    keys: ['Alt+r'],
    needs: 'range',
    run: ({ session }) => session.listening.clearRange(),
  },
  {
    id: 'compare',
    group: 'Listen',
    name: 'Compare: switch between current and the other',
    keys: ['b'],
    needs: 'clips',
    run: ({ session }) => session.listening.comparison.toggle(),
  },
  {
    id: 'start',
    group: 'Go to',
    name: 'Go to the start',
    keys: ['Home'],
    needs: 'clips',
    run: (place) => go(place, 0),
  },
  {
    id: 'end',
    group: 'Go to',
    name: 'Go to the end',
    keys: ['End'],
    needs: 'clips',
    run: (place) => go(place, programmeFrames(place.session.project)),
  },
  {
    id: 'edge-before',
    group: 'Go to',
    name: 'Go to the previous edge or marker',
    keys: ['PageUp'],
    needs: 'clips',
    run: (place) => step(place, edges(place.session), -1),
  },
  {
    id: 'edge-after',
    group: 'Go to',
    name: 'Go to the next edge or marker',
    keys: ['PageDown'],
    needs: 'clips',
    run: (place) => step(place, edges(place.session), 1),
  },
  {
    id: 'finding-before',
    group: 'Go to',
    name: 'Go to the previous place over a limit',
    keys: ['Shift+PageUp'],
    needs: 'clips',
    run: (place) => step(place, findings(place.session), -1),
  },
  {
    id: 'finding-after',
    group: 'Go to',
    name: 'Go to the next place over a limit',
    keys: ['Shift+PageDown'],
    needs: 'clips',
    run: (place) => step(place, findings(place.session), 1),
  },
  {
    id: 'marker',
    group: 'Go to',
    name: 'Add a marker at the playhead',
    keys: ['m'],
    needs: 'stage',
    run: mark,
  },
];
