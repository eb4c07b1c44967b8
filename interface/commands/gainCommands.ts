import { changeLevel } from '@/core/programme/edits/groups';
import { heldLevel } from '@/core/programme/heldChange';
import { signed } from '@/core/text/figures';
import { count } from '@/core/text/words';
import type { SectionChange } from '@/core/programme/edits/sections';
import { coveredBy } from '@/core/programme/sections';
import { resetGains } from '../session/resetGains';
import { doHeld } from '../session/doHeld';
import { markSpoken } from '../programme/duck/speechActions';
import { openRide } from '../programme/ride/openRide';
import { raisePoints, selectedPoints } from '../programme/points/pointActions';
import { changePart } from '../programme/sections/sectionActions';
import { viewNow } from '../programme/viewSettings';
import { burstKey } from './burst';
import type { Command, CommandPlace } from './command';

/** Raises or lowers what is selected: points of a curve, else clips. */
function change({ session, ids }: CommandPlace, db: number): void {
  const points = selectedPoints(session);
  if (points) {
    const { owner, places } = points;
    const key = `points ${db} ${JSON.stringify(owner)} ${[...places].join()}`;
    return raisePoints(session, owner, places, db, burstKey(key));
  }
  doHeld(
    session,
    heldLevel(session.project, ids, db),
    (given) => `Change gain of ${count(ids.size, 'clip')} by ${signed(given)} dB`,
    (project, given) => changeLevel(project, ids, { kind: 'change', db: given }),
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
    needs: 'selected or points',
    run: (place) => change(place, way === 'up' ? db : -db),
  })),
);

/** Does something to the part of the chosen clips that the range covers. */
function changeParts(
  { session, ids }: CommandPlace,
  change: SectionChange,
  merge: string | null = null,
): void {
  const { range } = session.state;
  if (!range) return;
  const clips = coveredBy(session.project.clips, range).filter(({ id }) => ids.has(id));
  if (clips.length > 0) changePart(session, clips, range, change, merge);
}

const partSteps = (['up', 'down'] as const).map((way): Command => ({
  id: `part-${way}`,
  group: 'Gain',
  name: `${way === 'up' ? 'Raise' : 'Lower'} the part in the range by 0.5 dB`,
  keys: [`Ctrl+Arrow${way === 'up' ? 'Up' : 'Down'}`],
  onClip: true,
  needs: 'part',
  run: (place) => {
    const db = way === 'up' ? 0.5 : -0.5;
    const { range } = place.session.state;
    changeParts(
      place,
      { kind: 'change', db },
      burstKey(`part ${db} ${range?.from} ${[...place.ids].join()}`),
    );
  },
}));

/** What is done to the gain of the chosen clips. */
export const gainCommands: readonly Command[] = [
  ...steps,
  ...partSteps,
  {
    id: 'part-silence',
    group: 'Gain',
    name: 'Silence the part in the range',
    keys: ['q'],
    needs: 'part',
    run: (place) => changeParts(place, { kind: 'silence' }),
  },
  ...(['out', 'in'] as const).map((way): Command => ({
    id: `part-fade-${way}`,
    group: 'Gain',
    name: `Fade the part in the range ${way}`,
    keys: [way === 'out' ? 'x' : 'Shift+X'],
    needs: 'part',
    run: (place) => changeParts(place, { kind: 'fade', way, shape: viewNow().fadeShape }),
  })),
  {
    id: 'part-even',
    group: 'Gain',
    name: 'Remove the gain of the part in the range',
    keys: ['Shift+Q'],
    needs: 'part',
    run: (place) => changeParts(place, { kind: 'even' }),
  },
  {
    id: 'parts',
    group: 'Gain',
    name: 'Find parts that stand out',
    keys: ['o'],
    needs: 'clips',
    run: ({ session, stage, ids }) => {
      session.select(ids);
      stage?.findParts();
    },
  },
  {
    id: 'clicks',
    group: 'Gain',
    name: 'Find clicks where clips begin, end and follow on one another',
    keys: ['k'],
    needs: 'clips',
    run: ({ stage }) => stage?.findClicks(),
  },
  {
    id: 'even',
    group: 'Gain',
    name: 'Even out the selected clips, or all',
    keys: ['e'],
    needs: 'clips',
    run: ({ session, stage, ids }) => {
      session.select(ids);
      stage?.evenOut();
    },
  },
  {
    id: 'gain-edit',
    group: 'Gain',
    name: 'Type a gain',
    keys: ['Enter'],
    onClip: true,
    needs: 'selected',
    run: ({ session, stage, ids }) => {
      session.select(ids);
      stage?.editGain();
    },
  },
  {
    id: 'gain-reset',
    group: 'Gain',
    name: 'Reset gain',
    keys: ['0'],
    needs: 'selected',
    run: ({ session, ids }) => resetGains(session, ids),
  },
  {
    id: 'level',
    group: 'Gain',
    name: 'Level the selected clips, or all',
    keys: ['l'],
    needs: 'clips',
    run: ({ session, stage, ids }) => {
      session.select(ids);
      stage?.levelClips();
    },
  },
  {
    id: 'plan',
    group: 'Gain',
    name: 'Level by role: the plan',
    keys: ['p'],
    needs: 'clips',
    run: ({ stage }) => stage?.plan(),
  },
  {
    id: 'duck',
    group: 'Gain',
    name: 'Duck music, effects or ambience under speech',
    keys: ['u'],
    needs: 'clips',
    run: ({ session, stage, ids }) => {
      session.select(ids);
      stage?.duck();
    },
  },
  ...([true, false] as const).map((spoken): Command => ({
    id: spoken ? 'spoken' : 'not-spoken',
    group: 'Gain',
    name: `Mark the range as ${spoken ? '' : 'not '}spoken`,
    keys: [],
    needs: 'part',
    run: ({ session, ids }) =>
      markSpoken(
        session,
        session.project.clips.filter(({ id }) => ids.has(id)),
        spoken,
      ),
  })),
  {
    id: 'ride',
    group: 'Gain',
    name: 'Ride the gain of the selected clip, or of the programme',
    keys: ['y'],
    needs: 'clips',
    run: ({ session, ids, focused }) => {
      const id = focused !== null && ids.has(focused) ? focused : [...ids][0];
      openRide(session, id === undefined ? { kind: 'programme' } : { kind: 'clip', id });
    },
  },
  {
    id: 'level-programme',
    group: 'Gain',
    name: 'Bring the programme to its target',
    keys: ['Shift+L'],
    needs: 'clips',
    run: ({ stage }) => stage?.levelProgramme(),
  },
];
