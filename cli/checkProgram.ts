import { availableParallelism } from 'node:os';
import { Command } from '@commander-js/extra-typings';
import { SHIPPED_SERVICES } from '@/core/check/services';
import { targetFileLines } from '@/core/check/targetFile';
import { named, quiet, READ, TARGETS, type Ended } from './programParts';
import * as usage from './usage';
import { UsageError } from './usage';

const SERVICES = SHIPPED_SERVICES.map(({ id }) => id);

/** `check`, as it is called. */
export function check(ended: Ended): Command {
  const command = quiet(new Command('check'))
    .summary('finished files against delivery targets; a gate for builds and ingests')
    .description(
      `Holds finished files against delivery targets and finds what is wrong in them. FILE may be a folder, a pattern, or - for standard input.\n\n${READ}\n\nExit code: 0 all meet, 1 if any misses, cannot be certified, cannot be judged or fails, 2 wrong usage.\n\nA file of targets (--targets) is JSON:\n\n${targetFileLines().join('\n')}`,
    )
    .argument('[FILE...]')
    .option('--target <LIST>', `ids, parted by commas: ${TARGETS.join(', ')}, or those of --targets`)
    .option('--targets <FILE>', 'targets of one’s own (.json)', named('targets'))
    .option('--json', 'all of it as data, unrounded')
    .option('--csv', 'CSV, a line for each file and target')
    .option('--junit', 'JUnit XML, a test case for each file and target')
    .option('--findings', 'list the findings of each file and their fixes')
    .option(
      '--report <FILE>',
      'also write a report in the form that its ending says: .csv, .json, or .xml for JUnit; may be given several times',
      (file: string, before: readonly string[]) => [...before, named('report')(file)],
      [] as readonly string[],
    )
    .option('--no-clobber', 'write no file that is there already; otherwise it is replaced, and that is said')
    .option(
      '--service <LIST>',
      `with --json: what listeners get, by services parted by commas: ${SERVICES.join(', ')}; all of them otherwise`,
    )
    .option(
      '--dialogue <FILE>',
      'a subtitle file (.srt or .vtt) that says when somebody speaks',
      named('dialogue'),
    )
    .option('--find-speech', 'find when somebody speaks; done anyway for targets that go by dialogue')
    .option(
      '--layout <ID>',
      `what the channels are, where a file does not say it: ${usage.LAYOUTS}`,
      usage.layoutId,
    )
    .option(
      '--jobs <N>',
      'files, and parts of long files, at a time; at most, and otherwise, as many as there are cores',
      usage.jobs,
    );
  command.action(async (files, options) => {
    usage.named(files, 'Name at least one file to check.');
    const targets = usage.list(options.target ?? '');
    if (targets.length === 0) throw new UsageError('Select at least one target with --target.');
    const wanted = options.service === undefined ? SERVICES : usage.list(options.service);
    const services = wanted.map((id) => {
      const service = SHIPPED_SERVICES.find((one) => one.id === id);
      if (service) return service;
      throw new UsageError(`There is no service “${id}”; there are ${SERVICES.join(', ')}.`);
    });
    if (options.dialogue !== undefined && options.findSpeech)
      throw new UsageError('Select --dialogue or --find-speech, not both.');
    const forms = (['json', 'csv', 'junit'] as const).filter((one) => options[one] === true);
    if (forms.length > 1) throw new UsageError(`Select --${forms.join(' or --')}, not both.`);
    if (new Set(options.report).size < options.report.length)
      throw new UsageError('--report needs another file each time.');
    ended(
      await (
        await import('./check')
      ).checkCommand({
        ...{ files, targets: [...new Set(targets)], services },
        own: options.targets ?? null,
        form: forms[0] ?? 'people',
        findings: options.findings ?? false,
        dialogue: options.dialogue ?? null,
        findSpeech: options.findSpeech ?? false,
        layoutId: options.layout ?? null,
        reports: options.report,
        keepExisting: !options.clobber,
        jobs: options.jobs ?? availableParallelism(),
      }),
    );
  });
  return command as unknown as Command;
}
