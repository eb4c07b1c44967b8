import { clipEnd } from '@/core/programme/model';
import { changeView, viewNow } from '../programme/viewSettings';
import type { Command, CommandPlace } from './command';

/** The chosen clips, else the range, as large as they fit. */
function showSelected({ session, stage, ids }: CommandPlace): void {
  const { clips, sampleRate } = session.project;
  const chosen = clips.filter((clip) => ids.has(clip.id));
  const { range } = session.state;
  const from = chosen.reduce((least, clip) => Math.min(least, clip.start), Infinity);
  const to = chosen.reduce((most, clip) => Math.max(most, clipEnd(clip)), 0);
  if (from < to) stage?.showRange(from / sampleRate, to / sampleRate);
  else if (range) stage?.showRange(range.from / sampleRate, range.to / sampleRate);
}

const look = (id: string, name: string, keys: readonly string[], run: Command['run']): Command => ({
  id,
  group: 'View',
  name,
  keys,
  needs: 'stage',
  run,
});

/** What is seen of the programme. */
export const viewCommands: readonly Command[] = [
  {
    id: 'close-sheet',
    group: 'View',
    name: 'Close the sheet',
    keys: ['Escape'],
    needs: 'sheet',
    run: ({ stage }) => stage?.closeSheet?.(),
  },
  look('face-lanes', 'Lanes: tracks of clips', ['1'], () => changeView({ face: 'lanes' })),
  look('face-ledger', 'Ledger: a table of clips', ['2'], () => changeView({ face: 'ledger', big: false })),
  look('face-ladder', 'Ladder: clips around the horizon', ['3'], () =>
    changeView({ face: 'ladder', big: false }),
  ),
  look('zoom-in', 'Zoom in', ['+', '='], ({ stage }) => stage?.zoom(1 / 0.6)),
  look('zoom-out', 'Zoom out', ['-'], ({ stage }) => stage?.zoom(0.6)),
  look('show-all', 'Show the whole programme', ['f'], ({ stage }) => stage?.showAll()),
  look('show-selected', 'Show the selected clips, or the range', ['z'], showSelected),
  look('higher', 'Make lanes higher', ['h'], ({ stage }) => stage?.changeHeight(1.25)),
  look('lower', 'Make lanes lower', ['Shift+H'], ({ stage }) => stage?.changeHeight(0.8)),
  look('sound-big', 'Lanes only, at full height', ['s'], ({ stage }) => stage?.toggleView('big')),
  look('mirrored', 'Mirrored waveforms, on or off', ['w'], ({ stage }) => stage?.toggleView('mirrored')),
  look('picture', 'Picture at the playhead, shown or put away', [], () => {
    const { picture } = viewNow();
    changeView({ picture: { ...picture, shown: !picture.shown } });
  }),
  look('loudness', 'Draw loudness over the waveform', ['v'], ({ stage }) => stage?.toggleView('loudness')),
];
