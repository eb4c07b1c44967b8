import { checkDetails } from '@/core/check/findings/details';
import type { CheckMaterial } from '@/core/check/findings/material';
import type { FileCheck } from '@/core/check/fileCheck';
import { distributionOf } from '@/core/loudness/levelTrack';
import { everyHop, shortTermWindows } from '@/core/loudness/windows';
import { courseOf, STANDARDS, targetReport, type FileFacts, type ProgrammeReport } from './report';

/** What a report on a finished file is made from. */
export interface FileReportMaterial {
  readonly name: string;
  readonly facts: FileFacts;
  readonly material: CheckMaterial;
  readonly check: FileCheck;
  /** What mends each finding, a sentence; as many as there are findings. */
  readonly fixes: readonly (string | null)[];
  readonly version: string;
  readonly made: string;
}

/** Puts together what is told of a finished file; nothing in it is worked out anew. */
export function fileReport(of: FileReportMaterial): ProgrammeReport {
  const { name, facts, material, check, fixes, version, made } = of;
  const shortTerm = Float64Array.from(everyHop(shortTermWindows(material.energy, material.sampleRate)));
  return {
    ...({ format: 'dengung-report-1', software: { name: 'Dengung', version }, made } as const),
    standards: STANDARDS,
    programme: {
      ...{ name, seconds: material.seconds, sampleRate: material.sampleRate, layout: material.layout.name },
    },
    targets: check.verdicts.map((verdict) => targetReport(verdict.target, verdict)),
    figures: material.figures,
    details: checkDetails(material),
    dialogue: check.judged.spoken ?? null,
    course: courseOf(shortTerm),
    distribution: distributionOf(shortTerm),
    findings: check.findings.map((one, i) => ({
      ...{ kind: one.kind, weight: one.weight, from: one.from, to: one.to, whole: one.whole ?? false },
      ...{ value: one.value, limit: one.limit, unit: one.unit, sentence: one.sentence },
      ...{ fix: fixes[i] ?? null, accepted: false, note: '' },
    })),
    ...{ clips: [], processing: [], mutedTracks: [], plan: null, files: [], file: facts },
  };
}
