import { readFileSync } from 'node:fs';
import { CommanderError, type Command } from '@commander-js/extra-typings';
import { failed } from './failed';
import { program } from './program';
import { complain, sayJson } from './say';
import { UsageError } from './usage';

const version = (): string => {
  const root = process.env['DENGUNG_ROOT'] ?? '.';
  const { version: found } = JSON.parse(readFileSync(`${root}/package.json`, 'utf8')) as { version: string };
  return found;
};

/** What a parser’s complaint quotes, and what it takes the slip for. */
function quoted({ message }: CommanderError): { readonly what: string; readonly meant: string } {
  const what = /'([^']*)'/.exec(message)?.[1] ?? '';
  const meant = /\(Did you mean (.*?)\?\)/.exec(message)?.[1];
  return { what, meant: meant === undefined ? '' : ` Did you mean ${meant}?` };
}

const listWords = (names: readonly string[]): string =>
  names.length < 2 ? names.join('') : `${names.slice(0, -1).join(', ')} and ${names.at(-1)}`;

/** What is wrong with a call, in our words. */
function misuse(error: CommanderError, command: string | undefined, all: Command): string {
  const { what, meant } = quoted(error);
  const names = all.commands.map((one) => one.name());
  if (error.code === 'commander.unknownCommand')
    return `“${what}” is not a command; there are ${listWords(names)}.${meant}`;
  if (error.code === 'commander.optionMissingArgument') return `${what.split(' ')[0]} needs a value.`;
  if (error.code !== 'commander.unknownOption') return error.message.replace(/^error: /, '');
  const owners = all.commands.filter((one) => one.options.some((option) => option.long === what));
  if (owners.length === 0) return `There is no option ${what}.${meant}`;
  return `${what} belongs to ${listWords(owners.map((one) => one.name()))}, not to ${command}.`;
}

const HELP_SHOWN = ['commander.helpDisplayed', 'commander.help', 'commander.version'];

/** Does what the arguments say. @returns the exit code */
export async function run(args: readonly string[]): Promise<number> {
  let code = 0;
  const all = program(version(), (ended) => (code = ended));
  const command = all.commands.find((one) => args.includes(one.name()))?.name();
  const misused = (message: string): number => {
    const hint = `See: dengung ${command === undefined ? '--help' : `${command} --help`}`;
    if (args.includes('--json')) sayJson({ error: { code: 'usage', message, hint } });
    else complain(`${message}\n${hint}`);
    return 2;
  };
  if (args.length === 0) return misused('Say what to do: measure, check, level, render or deliver.');
  try {
    await all.parseAsync([...args], { from: 'user' });
    return code;
  } catch (error) {
    if (error instanceof UsageError) return misused(error.message);
    if (!(error instanceof CommanderError)) return failed(error, args.includes('--json'), {});
    return HELP_SHOWN.includes(error.code) ? 0 : misused(misuse(error, command, all));
  }
}
