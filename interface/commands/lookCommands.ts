import { clipEnd } from '@/core/programme/model';
import { changeLook } from '../programme/look';
import type { Command, CommandPlace } from './command';

/** The chosen clips, else the range, as large as they fit. */
function showChosen({ session, desk, ids }: CommandPlace): void {
  const { clips, sampleRate } = session.project;
  const chosen = clips.filter((clip) => ids.has(clip.id));
  const { range } = session.state;
  const from = chosen.reduce((least, clip) => Math.min(least, clip.start), Infinity);
  const to = chosen.reduce((most, clip) => Math.max(most, clipEnd(clip)), 0);
  if (from < to) desk?.showStretch(from / sampleRate, to / sampleRate);
  else if (range) desk?.showStretch(range.from / sampleRate, range.to / sampleRate);
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
export const lookCommands: readonly Command[] = [
  {
    id: 'close-sheet',
    group: 'View',
    name: 'Close the sheet',
    keys: ['Escape'],
    needs: 'sheet',
    run: ({ desk }) => desk?.closeSheet?.(),
  },
  look('face-lanes', 'Lanes: tracks of clips', ['1'], () => changeLook({ face: 'lanes' })),
  look('face-ledger', 'Ledger: a table of clips', ['2'], () => changeLook({ face: 'ledger', big: false })),
  look('face-ladder', 'Ladder: clips around the horizon', ['3'], () =>
    changeLook({ face: 'ladder', big: false }),
  ),
  look('zoom-in', 'Zoom in', ['+', '='], ({ desk }) => desk?.zoom(1 / 0.6)),
  look('zoom-out', 'Zoom out', ['-'], ({ desk }) => desk?.zoom(0.6)),
  look('show-all', 'Show the whole programme', ['f'], ({ desk }) => desk?.showAll()),
  look('show-chosen', 'Show the selected clips, or the range', ['z'], showChosen),
  look('higher', 'Make lanes higher', ['h'], ({ desk }) => desk?.changeHeight(1.25)),
  look('lower', 'Make lanes lower', ['Shift+H'], ({ desk }) => desk?.changeHeight(0.8)),
  look('sound-big', 'Lanes only, at full height', ['s'], ({ desk }) => desk?.toggleLook('big')),
  look('mirrored', 'Mirrored waveforms, on or off', ['w'], ({ desk }) => desk?.toggleLook('mirrored')),
  look('loudness', 'Draw loudness over the waveform', ['v'], ({ desk }) => desk?.toggleLook('loudness')),
];
