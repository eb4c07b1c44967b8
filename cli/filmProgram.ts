import { availableParallelism } from 'node:os';
import { Command } from '@commander-js/extra-typings';
import { named, quiet, type Ended } from './programParts';
import * as usage from './usage';
import { UsageError } from './usage';

const MOST_SOUNDS = 64;

/** `film`, as it is called. */
export function film(ended: Ended): Command {
  const command = quiet(new Command('film'))
    .summary('a film with another sound, its picture as it is')
    .description(
      'Copies a film (MP4, MOV, Matroska) with a finished sound in the place of one of its own. Picture and other sounds are copied packet for packet; the new sound is 24-bit PCM, measured from the copy before that takes its name. What cannot be copied is said.\n\nExit code: 0 done, 1 failed, 2 wrong usage.',
    )
    .argument('[FILM...]')
    .usage('[options] FILM')
    .option('--sound <FILE>', 'the finished sound', named('sound'))
    .option('--out <FILE>', 'the copy', named('out'))
    .option(
      '--track <N>',
      'which of the film’s sounds is replaced (1 otherwise)',
      usage.whole('track', MOST_SOUNDS),
    )
    .option('--no-clobber', 'write no file that is there already; otherwise it is replaced, and that is said')
    .option('--json', 'what was written as data')
    .option('--jobs <N>', 'parts of a long file at a time', usage.jobs);
  command.action(async (films, options) => {
    const one = usage.oneFile(films, 'Name exactly one film.');
    if (options.sound === undefined) throw new UsageError('Name the finished sound with --sound.');
    if (options.out === undefined) throw new UsageError('Name the copy with --out.');
    ended(
      await (
        await import('./film')
      ).filmCommand({
        ...{ film: one, sound: options.sound, out: options.out, track: (options.track ?? 1) - 1 },
        ...{ keepExisting: !options.clobber, json: options.json ?? false },
        jobs: options.jobs ?? availableParallelism(),
      }),
    );
  });
  return command as unknown as Command;
}
