import { open } from 'node:fs/promises';
import { join } from 'node:path';
import { temporaryFolder } from './cleanUp';
import { FileError } from './files';

/** How standard input is named. */
export const STANDARD_INPUT = '-';
/** More is not taken, bytes: what never ends would fill the disk. */
const MOST_BYTES = 16e9;

/**
 * Takes all of standard input into a temporary file, as sound has to be read in any order.
 * @returns its path; it goes when the program ends
 */
export async function fromStandardInput(
  most = MOST_BYTES,
  input: NodeJS.ReadableStream = process.stdin,
): Promise<string> {
  const path = join(await temporaryFolder(), 'input');
  const handle = await open(path, 'wx');
  let taken = 0;
  try {
    for await (const chunk of input) {
      const bytes = chunk as Buffer;
      taken += bytes.length;
      if (taken > most)
        throw new FileError(
          'tooLarge',
          `More than ${most / 1e9} GB came in on standard input.`,
          'Write it to a file and name that.',
        );
      await handle.writeFile(bytes);
    }
  } finally {
    await handle.close();
  }
  return path;
}
