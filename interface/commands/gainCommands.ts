import { changeLevel, resetLevel } from '@/core/programme/edits/groups';
import { signed } from '@/core/text/figures';
import { count } from '../parts/words';
import { burstKey } from './burst';
import type { Command, CommandPlace } from './command';

function change({ session, ids }: CommandPlace, db: number): void {
  session.do(
    `Change gain of ${count(ids.size, 'clip')} by ${signed(db)} dB`,
    (project) => changeLevel(project, ids, { kind: 'change', db }),
    burstKey(`gain ${db} ${[...ids].join()}`),
  );
}

/** By small steps, as they come, and large ones: dB. */
const steps = (
  [
    ['', 0.5],
    ['Shift+', 3],
    ['Alt+', 0.1],
  ] as const
).flatMap(([modifier, db]): Command[] =>
  (['up', 'down'] as const).map((way) => ({
    id: `gain-${way}-${db}`,
    group: 'Gain',
    name: `${way === 'up' ? 'Raise' : 'Lower'} by ${db} dB`,
    keys: [`${modifier}Arrow${way === 'up' ? 'Up' : 'Down'}`],
    onClip: true,
    needs: 'chosen',
    run: (place) => change(place, way === 'up' ? db : -db),
  })),
);

/** What is done to the gain of the chosen clips. */
export const gainCommands: readonly Command[] = [
  ...steps,
  {
    id: 'gain-edit',
    group: 'Gain',
    name: 'Type a gain',
    keys: ['Enter'],
    onClip: true,
    needs: 'chosen',
    run: ({ session, desk, ids }) => {
      session.select(ids);
      desk?.editGain();
    },
  },
  {
    id: 'gain-reset',
    group: 'Gain',
    name: 'Reset to as recorded',
    keys: ['0'],
    needs: 'chosen',
    run: ({ session, ids }) =>
      session.do(`Reset gain of ${count(ids.size, 'clip')}`, (project) => resetLevel(project, ids)),
  },
  {
    id: 'level',
    group: 'Gain',
    name: 'Level the chosen clips, or all',
    keys: ['l'],
    needs: 'clips',
    run: ({ session, desk, ids }) => {
      session.select(ids);
      desk?.levelClips();
    },
  },
  {
    id: 'plan',
    group: 'Gain',
    name: 'Level by role: the plan',
    keys: ['p'],
    needs: 'clips',
    run: ({ desk }) => desk?.plan(),
  },
  {
    id: 'level-programme',
    group: 'Gain',
    name: 'Bring the programme to its target',
    keys: ['Shift+L'],
    needs: 'clips',
    run: ({ desk }) => desk?.levelProgramme(),
  },
];
