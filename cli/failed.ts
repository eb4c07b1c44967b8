import { trouble } from './files';
import { complain, sayJson, shown } from './say';

/**
 * Tells what ended a command: as data where data were asked for, else in two lines beside what is printed.
 * @param what it was about: the file, the cut
 * @returns the exit code
 */
export function failed(error: unknown, json: boolean, what: Readonly<Record<string, string>>): number {
  const failure = trouble(error);
  const [about] = Object.values(what);
  if (json) sayJson({ ...what, error: failure });
  else complain(`${about === undefined ? '' : `${shown(about)}\n  `}${failure.message} ${failure.hint}`);
  return failure.code === 'noSuchTrack' ? 2 : 1;
}
