import { availableParallelism } from 'node:os';
import { Command } from '@commander-js/extra-typings';
import { FRAME_RATES } from '@/core/text/timecode';
import { named, quiet, type Ended } from './programParts';
import * as usage from './usage';
import { UsageError } from './usage';

const RATES = FRAME_RATES.map(({ id }) => id);

/** `deliver`, as it is called. @param usualMostHours the longest programme that is taken for no mistake */
export function deliver(ended: Ended, usualMostHours: number): Command {
  const command = quiet(new Command('deliver'))
    .summary('a cut handed over as a set of files: targets, stems, formats')
    .description(
      'Mixes a cut of an edit system (.otio or .edl) from its media and writes all files that a list of deliveries asks for, in one pass. Each is read back, measured, judged and hashed before it takes its name.\n\nA list of deliveries is saved in Handover: Sets, “Save as a file”.\n\nExit code: 0 all meet, 1 one misses or fails, 2 wrong usage.',
    )
    .argument('[CUT...]')
    .usage('[options] CUT')
    .option('--media <FOLDER>', 'where the media of the cut lies, folders within it included', named('media'))
    .option('--deliveries <FILE>', 'what is handed over (.json)', named('deliveries'))
    .option('--out <FOLDER>', 'where the files go', named('out'))
    .option('--json', 'all of it as data, unrounded')
    .option(
      '--roles <LIST>',
      'roles of tracks, as NAME=role, parted by commas; others keep the cut’s, or are dialogue',
      usage.roles,
    )
    .option(
      '--fps <RATE>',
      `frame rate of a list’s timecode: ${RATES.join(', ')} (25 otherwise)`,
      usage.oneOf('fps', RATES),
    )
    .option('--no-clobber', 'write no file that is there already; otherwise it is replaced, and that is said')
    .option(
      '--most-hours <N>',
      `the longest programme that is taken for no mistake (1 to 1000; ${usualMostHours} otherwise)`,
      usage.whole('most-hours', 1000),
    )
    .option('--jobs <N>', 'files read back at a time', usage.jobs);
  command.action(async (cuts, options) => {
    const cut = usage.oneFile(cuts, 'Name exactly one cut to hand over.');
    const { media, deliveries, out, fps = '25' } = options;
    if (media === undefined) throw new UsageError('Name the folder that holds the media with --media.');
    if (deliveries === undefined) throw new UsageError('Name the list of deliveries with --deliveries.');
    if (out === undefined) throw new UsageError('Name the folder for the files with --out.');
    ended(
      await (
        await import('./deliver')
      ).deliverCommand({
        ...{ cut, media, deliveries, out },
        roles: options.roles ?? new Map(),
        keepExisting: !options.clobber,
        mostHours: options.mostHours ?? usualMostHours,
        frameRate: FRAME_RATES.find(({ id }) => id === fps)!,
        json: options.json ?? false,
        jobs: options.jobs ?? availableParallelism(),
      }),
    );
  });
  return command as unknown as Command;
}
