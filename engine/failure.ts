import { AudioFileError } from '@/core/formats/errors';
import { ProjectFormatError } from '@/core/programme/migrations';
import { PackError } from '@/core/programme/pack';
import { CutError } from '@/core/timeline/cut';
import type { Failure, Outcome } from './protocol';

/** A failure that another worker has told. */
export class Failed extends Error {
  constructor(readonly failure: Failure) {
    super(failure.message);
  }
}

/** Somebody has given it up. */
export class GivenUp extends Error {}

/** What came of a piece of work. @throws Failed, GivenUp */
export function got<T>(outcome: Outcome<T>): T {
  if ('ok' in outcome) return outcome.ok;
  throw 'failure' in outcome ? new Failed(outcome.failure) : new GivenUp();
}

export function toFailure(error: unknown): Failure {
  if (error instanceof Failed) return error.failure;
  if (error instanceof AudioFileError || error instanceof CutError || error instanceof PackError)
    return { code: error.code, message: error.message, hint: error.hint };
  if (error instanceof ProjectFormatError)
    return { code: 'damaged', message: error.message, hint: 'Nothing was changed. Take a backup.' };
  if (
    error instanceof DOMException &&
    (error.name === 'NotReadableError' || error.name === 'NotFoundError')
  ) {
    return {
      code: 'unreadable',
      message: 'The file can no longer be read: it was moved, changed or taken away.',
      hint: 'Add it again from where it is now.',
    };
  }
  return {
    code: 'unexpected',
    message: `An error inside Dengung stopped this work (${rawWords(error)}).`,
    hint: 'Try again. If it happens again, reload the page; your project is saved.',
  };
}

const rawWords = (error: unknown): string =>
  (error instanceof Error ? error.message : String(error)).replace(/\.$/, '');

/** Why nothing can be heard: a failure of ours, or what the browser says of its sound output. */
export function playFailure(error: unknown): Pick<Failure, 'message' | 'hint'> {
  if (error instanceof Failed) return error.failure;
  return {
    message: `the browser gives no sound output (${rawWords(error)}).`,
    hint: 'Check the sound output of this machine, then play again.',
  };
}

/** The outcome of work in a worker: what cannot pass between workers, or breaks one, is a failure like any other. */
export async function outcomeOf<T>(work: T): Promise<Awaited<T> | { readonly failure: Failure }> {
  try {
    return await work;
  } catch (error) {
    return { failure: toFailure(error) };
  }
}
