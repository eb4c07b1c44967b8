import { sha256Of } from '@/codecs/hash';
import { receiptWords } from '@/core/deliver/receipt';
import { sendFile, SendError, type Line } from '@/core/recipients/sending';
import { failed } from './failed';
import { FileError, withFile } from './files';
import { ProgressLine } from './progress';
import { say, sayJson } from './say';

export interface SendOptions {
  readonly file: string;
  /** Id of the recipient. */
  readonly to: string;
  /** Where the server is. */
  readonly server: string;
  readonly key: string | null;
  /** What the files of one delivery have in common; `null`: it is of one file. */
  readonly set: string | null;
  readonly json: boolean;
}

/** The way to a server that runs. */
const lineTo =
  (server: string, key: string | null): Line<Uint8Array> =>
  async (method, path, body) => {
    const answer = await fetch(new URL(path, server), {
      method,
      ...(body !== null && { body: body as BodyInit }),
      headers: {
        'Content-Type': typeof body === 'string' ? 'application/json' : 'application/octet-stream',
        ...(key !== null && { Authorization: `Bearer ${key}` }),
      },
    });
    return { status: answer.status, data: (await answer.json().catch(() => null)) as unknown };
  };

/** `dengung send`. @returns the exit code: 0 where it is accepted */
export async function sendCommand({ file, to, server, key, set, json }: SendOptions): Promise<number> {
  const progress = new ProgressLine(1);
  try {
    const receipt = await withFile(file, async (source) => {
      const sha256 = (await sha256Of(source, () => Promise.resolve(true)))!;
      const outgoing = {
        ...{ name: file.split(/[/\\]/).at(-1)!, bytes: source.size, sha256 },
        ...(set !== null && { set }),
        // Kept by whoever sends it, while the next is read.
        piece: async (from: number, until: number) => Uint8Array.from(await source.read(from, until - from)),
      };
      return sendFile(
        lineTo(server, key),
        to,
        outgoing,
        ({ sent }) => {
          progress.at(file, sent / source.size);
          return true;
        },
        (ms) => new Promise((resolve) => setTimeout(resolve, ms)),
      );
    });
    progress.end();
    if (json) sayJson(receipt);
    else {
      say(receiptWords(receipt!));
      for (const { requirement, asked, found, meets } of receipt!.requirements)
        say(`  ${meets ? 'as asked' : 'not as asked'}  ${requirement}: ${found} (asked for: ${asked})`);
    }
    return receipt!.accepted ? 0 : 1;
  } catch (error) {
    progress.end();
    const told = error instanceof SendError ? new FileError(error.code, error.message, error.hint) : error;
    return failed(told, json, { file });
  }
}
