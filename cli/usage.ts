import { ROLES, type Role } from '@/core/programme/model';
import { availableParallelism } from 'node:os';
import { number, ValidationError } from 'yup';
import { DECLARABLE } from '@/core/audio/layout';
import type { TimeRange } from '@/core/loudness/levelTrack';
import { readNames } from '@/core/proposals/sets';
import { readNumber } from '@/core/text/typedNumber';
import { parseTime } from '@/core/text/timeEntry';
import { complain } from './say';

/** A command that was called wrongly. */
export class UsageError extends Error {}

/** Ids of the layouts that can be named. */
export const LAYOUTS = DECLARABLE.map((layout) => layout.id).join(', ');

/** A name of a file or folder, a list: what looks like another option is none. */
export const text =
  (option: string) =>
  (given: string): string => {
    if (given === '' || /^--?[a-z]/.test(given)) throw new UsageError(`--${option} needs a name.`);
    return given;
  };

/** A whole number from 1. */
export const whole =
  (option: string, most: number) =>
  (given: string): number => {
    const message = `--${option} is a whole number from 1 to ${most}.`;
    try {
      return number()
        .transform((_, original: unknown) => (/^\d+$/.test(String(original)) ? Number(original) : NaN))
        .typeError(message)
        .required(message)
        .min(1, message)
        .max(most, message)
        .validateSync(given);
    } catch (error) {
      if (error instanceof ValidationError) throw new UsageError(error.message);
      throw error;
    }
  };

/** More at a time than there are cores only takes memory. */
export function jobs(given: string): number {
  const cores = availableParallelism();
  const wanted = whole('jobs', 64)(given);
  if (wanted > cores) complain(`--jobs ${wanted}: ${cores} at a time, as many as there are cores.`);
  return Math.min(wanted, cores);
}

export function range(given: string): TimeRange {
  const [first = '', second = '', ...rest] = given.split(/[-–]/);
  const from = first.trim() === '' ? 0 : parseTime(first);
  const to = second.trim() === '' ? Infinity : parseTime(second);
  if (rest.length > 0 || !(from < to))
    throw new UsageError(
      '--range is two times with a dash between them, the first before the second, such as 1:20-2:05 or 90-.',
    );
  return { from, to };
}

export function layoutId(given: string): string {
  if (DECLARABLE.some((layout) => layout.id === given)) return given;
  throw new UsageError(`There is no layout “${given}”; there are ${LAYOUTS}.`);
}

/** One of a few words. */
export const oneOf =
  <T extends string>(option: string, words: readonly T[]) =>
  (given: string): T => {
    const found = words.find((word) => word === given);
    if (found !== undefined) return found;
    const last = words.at(-1);
    const list = words.length === 2 ? `${words[0]} or ${last}` : `one of ${words.join(', ')}`;
    throw new UsageError(`--${option} is ${list}.`);
  };

/** What is parted by commas. */
export const list = (given: string): string[] =>
  given
    .split(',')
    .map((item) => item.trim())
    .filter((item) => item !== '');

/** Roles of tracks: NAME=role, parted by commas. */
export function roles(given: string): ReadonlyMap<string, Role> {
  const found = new Map<string, Role>();
  for (const part of given.split(',')) {
    const at = part.lastIndexOf('=');
    const role = ROLES.find((one) => one === part.slice(at + 1).trim());
    const name = part.slice(0, Math.max(0, at)).trim();
    if (!role || name === '')
      throw new UsageError(`--roles is NAME=role, parted by commas; a role is one of ${ROLES.join(', ')}.`);
    found.set(name, role);
  }
  return found;
}

/** A level, checked once its unit is known. */
export function level(
  given: string | undefined,
  option: string,
  otherwise: number,
  [most, unit]: readonly [number, string],
): number {
  if (given === undefined) return otherwise;
  const read = readNumber(given, `--${option} is a number from −70 to ${most} ${unit}.`, [-70, most, unit]);
  if (typeof read !== 'number') throw new UsageError(read.error);
  return read;
}

/** How files are put in sets: by folder, or by the names that were given. */
export function sets(given: string): 'folder' | readonly string[] {
  if (given === 'folder') return given;
  const names = readNames(given);
  if ('error' in names) throw new UsageError(`--sets: ${names.error}.`);
  return names;
}

/** The one file that a command takes. @param message for none, or several */
export function oneFile(files: readonly string[], message: string): string {
  const [file, ...more] = named(files);
  if (file === undefined || more.length > 0) throw new UsageError(message);
  return file;
}

/** The files of a command. @throws when one has no name, or there are none and @param message is given */
export function named(files: readonly string[], message?: string): readonly string[] {
  if (files.includes('')) throw new UsageError('A file’s name cannot be empty.');
  if (files.length === 0 && message !== undefined) throw new UsageError(message);
  return files;
}
