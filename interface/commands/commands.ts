import type { Command } from './command';
import { clipCommands } from './clipCommands';
import { gainCommands } from './gainCommands';
import { listenCommands } from './listenCommands';
import { lookCommands } from './lookCommands';

const projectCommands: readonly Command[] = [
  {
    id: 'undo',
    group: 'Project',
    name: 'Undo',
    keys: ['Ctrl+z'],
    needs: 'nothing',
    run: ({ session }) => session.undo(),
  },
  {
    id: 'redo',
    group: 'Project',
    name: 'Redo',
    keys: ['Ctrl+Shift+z', 'Ctrl+y'],
    needs: 'nothing',
    run: ({ session }) => session.redo(),
  },
];

/** Everything that has a key. */
export const COMMANDS: readonly Command[] = [
  ...listenCommands,
  ...gainCommands,
  // A sheet is closed before what is selected is let go.
  ...lookCommands,
  ...clipCommands,
  ...projectCommands,
];

/** A command by its id. @throws when there is none, which is a slip in the code */
export function commandOf(id: string): Command {
  const command = COMMANDS.find((candidate) => candidate.id === id);
  if (!command) throw new RangeError(`No command ${id}`);
  return command;
}
