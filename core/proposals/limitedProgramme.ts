import { programmeLayout } from '@/core/audio/layout';
import { moveEverything } from '@/core/programme/edits/levels';
import { programmeFrames, type Limiter, type Project } from '@/core/programme/model';
import { renderRange } from '@/core/signal/mix';
import type { OpenSource } from '@/core/signal/source';
import { measureLimited, type LimitedAt } from './limitedGain';

/** What a programme measures through a limiter, in place of its own, with every track moved by the same gain. */
export function limitedProgramme(project: Project, limiter: Limiter, openSource: OpenSource): LimitedAt {
  const { sampleRate, layoutId } = project;
  const format = { sampleRate, layout: programmeLayout(layoutId), frames: programmeFrames(project) };
  return (gainDb, proceed) => {
    const moved = { ...moveEverything(project, gainDb), limiter: null };
    const read = (start: number, count: number) => renderRange(moved, openSource, start, count);
    return measureLimited({ format, read }, limiter, limiter.inputDb, proceed);
  };
}
