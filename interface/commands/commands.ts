import type { Command } from './command';
import { clipCommands } from './clipCommands';
import { gainCommands } from './gainCommands';
import { listenCommands } from './listenCommands';
import { viewCommands } from './viewCommands';
import { projectCommands } from './projectCommands';
import { trackCommands } from './trackCommands';

/** Everything that can be done by command. */
export const COMMANDS: readonly Command[] = [
  ...listenCommands,
  ...gainCommands,
  // A sheet is closed before what is selected is let go.
  ...viewCommands,
  ...clipCommands,
  ...trackCommands,
  ...projectCommands,
];

/** A command by its id. @throws when there is none, which is a slip in the code */
export function commandOf(id: string): Command {
  const command = COMMANDS.find((candidate) => candidate.id === id);
  if (!command) throw new RangeError(`No command ${id}`);
  return command;
}
