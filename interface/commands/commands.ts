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
  ...clipCommands,
  ...lookCommands,
  ...projectCommands,
];

/** Written as keys are told apart: letters small. */
const written = (key: string): string =>
  key.replace(/(^|\+)(\p{Lu})$/u, (_, before: string, letter: string) => before + letter.toLowerCase());

const byKey = new Map<string, Command[]>();
for (const command of COMMANDS)
  for (const key of command.keys) byKey.set(written(key), [...(byKey.get(written(key)) ?? []), command]);

/** The commands of a key: where several have it, those for a clip that has the focus come first. */
export function commandsOf(key: string): readonly Command[] {
  return [...(byKey.get(key) ?? [])].sort((a, b) => Number(b.onClip ?? false) - Number(a.onClip ?? false));
}

/** A command by its id. @throws when there is none, which is a slip in the code */
export function commandOf(id: string): Command {
  const command = COMMANDS.find((candidate) => candidate.id === id);
  if (!command) throw new RangeError(`No command ${id}`);
  return command;
}
