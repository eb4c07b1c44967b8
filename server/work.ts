import { WHOLE_FIRST_SOUND } from '@/core/audio/soundChoice';
import type { StatedLoudness } from '@/core/audio/metadata';
import type { Judged } from '@/core/check/verdict';
import type { Target } from '@/core/check/target';
import type { VerdictReport } from '@/core/check/fileCheck';
import type { CheckReport } from '@/core/deliver/checkReport';
import { SHIPPED_SERVICES } from '@/core/check/services';
import { lookAt, type FileLookedAt, type Setting } from '@/cli/check';
import { trouble, type Trouble } from '@/cli/files';
import { level, type LevelReport } from '@/cli/level';
import { measureFile } from '@/cli/measureFile';
import { openHere } from '@/cli/pool';
import { ProgressLine } from '@/cli/progress';
import { reportOf, type FileReport } from '@/cli/report';

/** A piece of work for a request; plain data. @see runJob */
export type Job =
  | {
      readonly kind: 'measure';
      readonly path: string;
      readonly name: string;
      readonly targets: readonly Target[];
      readonly findings: boolean;
      readonly layoutId: string | null;
    }
  | {
      readonly kind: 'check';
      readonly path: string;
      readonly name: string;
      readonly targets: readonly Target[];
      readonly layoutId: string | null;
    }
  | {
      readonly kind: 'level';
      readonly path: string;
      readonly name: string;
      readonly target: Target;
      readonly limit: boolean;
      readonly float: boolean | null;
      readonly out: string;
    }
  | { readonly kind: 'receive'; readonly path: string; readonly name: string; readonly target: Target };

/** What `measure` answers: the object of `dengung measure --json`, with verdicts where targets were named. */
type MeasureAnswer = FileReport & {
  readonly verdicts: readonly VerdictReport[];
  readonly findings?: CheckReport['findings'];
};

interface ReceiveAnswer {
  readonly judged: Judged;
  readonly stated: StatedLoudness | null;
}

export type JobResult<J extends Job> = J extends { readonly kind: 'measure' }
  ? MeasureAnswer
  : J extends { readonly kind: 'check' }
    ? CheckReport
    : J extends { readonly kind: 'level' }
      ? LevelReport
      : ReceiveAnswer;

export type JobAnswer = { readonly ok: unknown } | { readonly trouble: Trouble };

const silent = (): void => undefined;
const NO_EXTRAS = { range: null, exactTruePeak: null, speech: null, series: false } as const;

const settingFor = (
  targets: readonly Target[],
  services: Setting['services'],
  layoutId: string | null,
): Setting => ({
  ...{ targets, speech: null, services, layoutId },
  findSpeech: targets.some(({ anchor = 'programme' }) => anchor !== 'programme'),
});

/** Does one piece of work. */
async function work(job: Job): Promise<JobResult<Job>> {
  // The queue has as many at work as there are cores: each keeps to one.
  const pool = openHere();
  const { path, name } = job;
  const look = (targets: readonly Target[], services: Setting['services']): Promise<FileLookedAt> =>
    lookAt(path, name, settingFor(targets, services, 'layoutId' in job ? job.layoutId : null), pool, silent);
  try {
    switch (job.kind) {
      case 'measure': {
        if (job.targets.length === 0) {
          const measured = await measureFile(
            path,
            { ...WHOLE_FIRST_SOUND, layoutId: job.layoutId },
            pool,
            silent,
          );
          return { ...reportOf(name, measured, NO_EXTRAS), verdicts: [] };
        }
        const looked = await look(job.targets, []);
        const { report } = looked.checked;
        return {
          ...reportOf(name, looked, NO_EXTRAS),
          verdicts: report.verdicts,
          ...(job.findings && { findings: report.findings }),
        };
      }
      case 'check':
        return (await look(job.targets, SHIPPED_SERVICES)).checked.report;
      case 'level': {
        const report = await level(
          {
            ...{ file: path, target: job.target, by: 'integrated', limit: job.limit, limiter: null },
            ...{ out: job.out, keepExisting: true, json: true, choice: WHOLE_FIRST_SOUND, jobs: 1 },
            fileFormat: job.float === null ? 'asItComes' : job.float ? 'float' : '24',
          },
          pool,
          new ProgressLine(0),
        );
        const after = report.after && { ...report.after, file: name };
        return { ...report, file: name, before: { ...report.before, file: name }, after, out: null };
      }
      case 'receive': {
        const { format, checked } = await look([job.target], []);
        return { judged: checked.check.judged, stated: format.metadata?.loudness ?? null };
      }
    }
  } finally {
    await pool.close();
  }
}

/** Answers one piece of work that comes from the server. */
export function answerOne(): void {
  process.once('message', (job: Job) => {
    work(job)
      .then(
        (ok): JobAnswer => ({ ok }),
        (error: unknown): JobAnswer => ({ trouble: trouble(error) }),
      )
      .then((answer) => process.send!(answer, () => process.exit(0)));
  });
  // The server is gone: nobody waits.
  process.once('disconnect', () => process.exit(1));
}
