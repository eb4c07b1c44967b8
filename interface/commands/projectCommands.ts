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
import type { Session } from '../session/session';
import { saveProjectFile } from '../session/projectFile';
import { openPanel } from '../shell/panels';
import type { Command } from './command';

const command = (
  id: string,
  name: string,
  run: Command['run'],
  more: Partial<Pick<Command, 'keys' | 'group' | 'can'>> = {},
): Command => ({ ...{ id, group: 'Project', name, keys: [], needs: 'nothing', run }, ...more });

const stages = (['sources', 'programme', 'handover'] as const).map((stage) =>
  command(`stage-${stage}`, `Go to ${stage[0]!.toUpperCase()}${stage.slice(1)}`, ({ go }) => go(stage), {
    group: 'Go to',
  }),
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
  command('save-project', 'Save the project as a file', ({ session }) =>
    saveProjectFile(session.state.history),
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
