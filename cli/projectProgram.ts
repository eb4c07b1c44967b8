import { availableParallelism } from 'node:os';
import { Command } from '@commander-js/extra-typings';
import { FRAME_RATES } from '@/core/text/timecode';
import { USUAL_MOST_HOURS } from '@/core/timeline/cut';
import { named, quiet, type Ended } from './programParts';
import * as usage from './usage';
import { UsageError } from './usage';

const RATES = FRAME_RATES.map(({ id }) => id);
const NO_CLOBBER = 'write no file that is there already; otherwise it is replaced, and that is said';

/** `project pack` and `project open`, as they are called. */
export function project(version: string, ended: Ended): Command {
  const pack = quiet(new Command('pack'))
    .summary('a cut and its media as one project file')
    .argument('[CUT...]')
    .usage('[options] CUT')
    .option('--media <FOLDER>', 'where the media of the cut lies, folders within it included', named('media'))
    .option('--out <FILE>', 'the project file (.dengung)', named('out'))
    .option('--no-sound', 'leave the sound out: it is found again by name, length and checksum')
    .option(
      '--fps <RATE>',
      `frame rate of a list’s timecode: ${RATES.join(', ')} (25 otherwise)`,
      usage.oneOf('fps', RATES),
    )
    .option('--no-clobber', NO_CLOBBER)
    .option('--jobs <N>', 'files read at a time', usage.jobs)
    .action(async (cuts, options) => {
      const cut = usage.oneFile(cuts, 'Name exactly one cut to pack.');
      const { media, out, fps = '25' } = options;
      if (media === undefined) throw new UsageError('Name the folder that holds the media with --media.');
      if (!out?.toLowerCase().endsWith('.dengung'))
        throw new UsageError('Name the project file with --out; it ends in .dengung.');
      ended(
        await (
          await import('./packProject')
        ).packCommand({
          ...{ cut, media, out, withSound: options.sound, keepExisting: !options.clobber, version },
          ...{ mostHours: USUAL_MOST_HOURS, jobs: options.jobs ?? availableParallelism() },
          frameRate: FRAME_RATES.find(({ id }) => id === fps)!,
        }),
      );
    });
  const open = quiet(new Command('open'))
    .summary('a project file taken apart: its sound, its timeline, its data')
    .argument('[FILE...]')
    .usage('[options] FILE')
    .option('--out <FOLDER>', 'where its parts go', named('out'))
    .option('--no-clobber', NO_CLOBBER)
    .action(async (files, options) => {
      const file = usage.oneFile(files, 'Name exactly one project file to open.');
      if (options.out === undefined) throw new UsageError('Name the folder for its parts with --out.');
      ended(await (await import('./packProject')).openCommand(file, options.out, !options.clobber));
    });
  const command = quiet(new Command('project'))
    .summary('project files: put together, and taken apart')
    .description(
      'Puts a cut and its media together as one project file that opens in a browser, and takes project files apart.\n\nExit code: 0 all of it, 1 something was missing, damaged or failed, 2 wrong usage.',
    );
  command.addCommand(pack as unknown as Command);
  command.addCommand(open as unknown as Command);
  return command as unknown as Command;
}
