import { SHIPPED_TARGETS } from '@/core/check/shipped';
import { setTarget } from '@/core/programme/edits/project';
import {
  canRender,
  cannotDeliver,
  renderDeliveries,
  saveRendered,
  waitingToBeSaved,
} from '../handover/handoverActions';
import { copyTable, saveList, saveMarkers, saveTable, saveTimeline } from '../handover/edit/editForms';
import { toFailure } from '@/engine/failure';
import type { Session } from '../session/session';
import { savePack } from '../session/packs';
import { openPanel } from '../shell/panels';
import { STAGES } from '../shell/stageNames';
import type { Command } from './command';

/** Saves the project as one file, and says what of it is not there. */
async function savePackOf({ state, handover, notes }: Session, withSound: boolean): Promise<void> {
  try {
    const missing = await savePack(state.history, handover.records(), withSound);
    if (missing && missing.length > 0)
      notes.tell(`The file is saved, but without the sound of ${missing.join(', ')}: relink it in Sources.`);
  } catch (error) {
    notes.fail('pack', toFailure(error), 'The project was not saved as a file');
  }
}

const command = (
  id: string,
  name: string,
  run: Command['run'],
  more: Partial<Pick<Command, 'keys' | 'group' | 'can'>> = {},
): Command => ({ ...{ id, group: 'Project', name, keys: [], needs: 'nothing', run }, ...more });

const stages = STAGES.map(({ id, name }) =>
  command(`stage-${id}`, `Go to ${name}`, ({ go }) => go(id), { group: 'Go to' }),
);

const targets = SHIPPED_TARGETS.map((target) =>
  command(`target-${target.id}`, `Target: ${target.name}`, ({ session }) =>
    session.do(`Target ${target.name}`, (project) => setTarget(project, target)),
  ),
);

/** What is done to the whole project. */
export const projectCommands: readonly Command[] = [
  command('undo', 'Undo', ({ session }) => session.undo(), { keys: ['Ctrl+z'] }),
  command('redo', 'Redo', ({ session }) => session.redo(), { keys: ['Ctrl+Shift+z', 'Ctrl+y'] }),
  command('history', 'History: every step, back to any', () => openPanel('history')),
  command('settings', 'Programme settings', () => openPanel('settings')),
  command(
    'save-project',
    'Save the project as one file, with its sound',
    ({ session }) => void savePackOf(session, true),
  ),
  command(
    'save-project-bare',
    'Save the project as one file, without its sound',
    ({ session }) => void savePackOf(session, false),
  ),
  ...stages,
  command('shelf', 'Go to all projects', ({ go }) => go('projects'), { group: 'Go to' }),
  ...targets,
  command(
    'render',
    'Render all deliveries and measure the files',
    ({ session, go }) => {
      void renderDeliveries(session, session.project.deliveries, 'hand');
      go('handover');
    },
    {
      group: 'Handover',
      can: ({ session }) => canRender(session) && cannotDeliver(session, session.project.deliveries) === null,
    },
  ),
  command(
    'save-file',
    'Save the rendered files',
    ({ session }) => waitingToBeSaved(session).forEach((key) => saveRendered(session, key)),
    { group: 'Handover', can: ({ session }) => waitingToBeSaved(session).length > 0 },
  ),
  ...(
    [
      ['export-timeline', 'Export timeline (OpenTimelineIO)', saveTimeline],
      ['export-list', 'Save edit list (EDL)', saveList],
      ['export-table', 'Save table of gains (CSV)', saveTable],
      ['copy-table', 'Copy table of gains', (session: Session) => void copyTable(session)],
      [
        'export-markers',
        'Save markers and findings (CSV)',
        (session: Session) => void saveMarkers(session, 'csv', true),
      ],
    ] as const
  ).map(([id, name, run]) =>
    command(id, name, ({ session }) => run(session), {
      group: 'Handover',
      can: ({ session }) => session.project.clips.length > 0,
    }),
  ),
];
