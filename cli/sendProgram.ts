import { Command } from '@commander-js/extra-typings';
import { named, quiet, type Ended } from './programParts';
import * as usage from './usage';
import { UsageError } from './usage';

/** Where `npm run demo` answers. */
const USUAL_SERVER = 'http://127.0.0.1:4610';

function address(given: string): string {
  try {
    const { protocol, origin } = new URL(given);
    if (protocol === 'http:' || protocol === 'https:') return origin;
  } catch {
    // Told below.
  }
  throw new UsageError('--server is an address, such as http://127.0.0.1:4610.');
}

/** `send`, as it is called. */
export function send(ended: Ended): Command {
  const command = quiet(new Command('send'))
    .summary('a finished file sent to a recipient, who measures it and answers')
    .description(
      'Sends a finished file to a recipient of a server that runs, in pieces; where the line breaks, it goes on. The recipient measures it and answers with a receipt, requirement by requirement.\n\nExit code: 0 accepted, 1 not accepted or failed, 2 wrong usage.',
    )
    .argument('[FILE...]')
    .usage('[options] FILE')
    .option('--to <ID>', 'the recipient; GET /api/recipients lists them', named('to'))
    .option('--server <ADDRESS>', `where the server is (${USUAL_SERVER} otherwise)`, address)
    .option('--key <KEY>', 'where the server listens elsewhere than on this machine', named('key'))
    .option(
      '--set <NAME>',
      'where the recipient takes sets: what the files of one have in common',
      named('set'),
    )
    .option('--json', 'the receipt as data');
  command.action(async (files, options) => {
    const file = usage.oneFile(files, 'Name exactly one file to send.');
    if (options.to === undefined) throw new UsageError('Name the recipient with --to.');
    ended(
      await (
        await import('./send')
      ).sendCommand({
        set: options.set ?? null,
        ...{ file, to: options.to, server: options.server ?? USUAL_SERVER },
        ...{ key: options.key ?? process.env['DENGUNG_KEY'] ?? null, json: options.json ?? false },
      }),
    );
  });
  return command as unknown as Command;
}
