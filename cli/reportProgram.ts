import { availableParallelism } from 'node:os';
import { Command } from '@commander-js/extra-typings';
import { named, quiet, READ, TARGETS, type Ended } from './programParts';
import { REPORT_FORMS } from './reportForms';
import * as usage from './usage';
import { UsageError } from './usage';

const ENDINGS = REPORT_FORMS.map((form) => `.${form}`).join(', ');

/** `report`, as it is called. @param version of the product, which stands in the report */
export function report(version: string, ended: Ended): Command {
  const command = quiet(new Command('report'))
    .summary('a report on a finished file: PDF, HTML, data or a table')
    .description(
      `Measures a finished file, holds it against delivery targets and writes a report: what it is (with SHA-256), its verdicts, all figures with their places, loudness over time, findings and what mends them.\n\n${READ}\n\nExit code: 0 it meets all, 1 if it misses one, cannot be certified, cannot be judged or fails, 2 wrong usage.`,
    )
    .argument('[FILE...]')
    .usage('[options] FILE')
    .option('--target <LIST>', `ids, parted by commas: ${TARGETS.join(', ')}, or those of --targets`)
    .option('--targets <FILE>', 'targets of one’s own (.json)', named('targets'))
    .option('--out <FILE>', `the report; its ending says what it is: ${ENDINGS}`, named('out'))
    .option('--full', 'PDF and HTML: with the distribution of loudness as well')
    .option('--paper <SIZE>', 'PDF: A4 (otherwise) or Letter', usage.oneOf('paper', ['A4', 'Letter']))
    .option(
      '--dialogue <FILE>',
      'a subtitle file (.srt or .vtt) that says when somebody speaks',
      named('dialogue'),
    )
    .option('--find-speech', 'find when somebody speaks; done anyway for targets that go by dialogue')
    .option(
      '--layout <ID>',
      `what the channels are, where the file does not say it: ${usage.LAYOUTS}`,
      usage.layoutId,
    )
    .option('--no-clobber', 'write no file that is there already; otherwise it is replaced, and that is said')
    .option('--jobs <N>', 'parts of a long file at a time', usage.jobs);
  command.action(async (files, options) => {
    const file = usage.oneFile(files, 'Name exactly one file to report on.');
    const targets = usage.list(options.target ?? '');
    if (targets.length === 0) throw new UsageError('Select at least one target with --target.');
    if (options.out === undefined) throw new UsageError('Name the report with --out.');
    const ending = options.out.split('.').at(-1)!.toLowerCase();
    const form = REPORT_FORMS.find((one) => one === ending);
    if (!form) throw new UsageError(`--out ends in one of ${ENDINGS}.`);
    if (options.dialogue !== undefined && options.findSpeech)
      throw new UsageError('Select --dialogue or --find-speech, not both.');
    ended(
      await (
        await import('./reportOn')
      ).reportCommand({
        ...{ file, form, out: options.out, targets: [...new Set(targets)] },
        ...{ own: options.targets ?? null, full: options.full ?? false, paper: options.paper ?? 'A4' },
        ...{ dialogue: options.dialogue ?? null, findSpeech: options.findSpeech ?? false },
        layoutId: options.layout ?? null,
        ...{ keepExisting: !options.clobber, jobs: options.jobs ?? availableParallelism(), version },
      }),
    );
  });
  return command as unknown as Command;
}
