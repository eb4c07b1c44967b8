import { EBU_R128, SHIPPED_TARGETS } from '@/core/check/shipped';
import { verdictOf } from '@/core/check/verdict';
import { filesOf } from '@/core/deliver/deliveryFiles';
import type { HandedOver } from '@/core/deliver/handoverReport';
import { programmeReport, type ProgrammeReport } from '@/core/deliver/report/report';
import { figuresOf } from '@/core/loudness/figures';
import { measureReader } from '@/core/loudness/measureReader';
import { weightedEnergy } from '@/core/loudness/subBlocks';
import { everyHop, shortTermWindows } from '@/core/loudness/windows';
import { plainDelivery } from '@/core/programme/delivery';
import type { Project } from '@/core/programme/model';
import { renderRange } from '@/core/signal/mix';
import { openTestSource, testClip, testProject } from './projects';
import { memoryReader } from './signals';

const clip = (i: number) =>
  testClip({ id: `Clip ${i}`, sourceId: `s${i % 2}`, start: i * 48_000, length: 48_000 });

/** A report of a programme that was measured, with so many clips, and files that were handed over. */
export async function testReport(size: { clips: number; files: number }): Promise<ProgrammeReport> {
  const project: Project = {
    ...testProject(Array.from({ length: size.clips }, (_, i) => clip(i))),
    name: 'Frostline',
    otherTargets: [SHIPPED_TARGETS[1]!],
  };
  const frames = size.clips * 48_000;
  const samples = await renderRange(project, openTestSource, 0, frames);
  const { history } = (await measureReader(memoryReader(samples, 48_000), () => true))!;
  const shortTerm = Float64Array.from(everyHop(shortTermWindows(weightedEnergy(history), 48_000)));
  const figures = figuresOf(history);
  const [file] = filesOf(project, plainDelivery('d', EBU_R128), '2026-01-31');
  const handed: HandedOver = {
    ...{ file: file!, name: file!.name, savedAs: null, at: '2026-01-31 21:04:00', bytes: 1_234_567 },
    ...{ sha256: '0123456789abcdef'.repeat(4), project, predicted: figures, figures },
    ...{
      verdict: verdictOf(figures, EBU_R128),
      gainDb: 0,
      corrected: null,
      wrong: [],
      codecOver: null,
      sum: null,
      stale: null,
      receipts: [],
    },
  };
  return programmeReport({
    ...{ project, figures, shortTerm, checked: null, version: '9.9', made: '2026-01-31 21:05:00' },
    files: Array.from({ length: size.files }, (_, i) => ({ ...handed, name: `Reel ${i + 1}.wav` })),
  });
}
