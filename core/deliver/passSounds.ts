import type { Id, Project } from '@/core/programme/model';
import type { ReadSound } from '@/core/signal/limiter/limitedReader';
import type { OpenSource } from '@/core/signal/source';
import { deliveredSound, type Given, type Treatment } from './deliveredSound';
import { hearingOf, mixSounds, WHOLE_MIX } from './mixSounds';
import { StemSum } from './stemSum';

/** What the sound of a file depends on. */
export interface PassFile {
  /** The clips it is made of; `null`: all. */
  readonly clipIds: ReadonlySet<Id> | null;
  readonly treatment: Treatment;
  readonly given: Given;
  /** The set of stems that it belongs to, which are all in the pass; `null` where it is none. */
  readonly set: string | null;
}

/** The sound of a file, and the sum of the set that it belongs to, to be given every piece of it. */
export interface PassSound {
  readonly sound: ReadSound;
  readonly sum: StemSum | null;
}

/**
 * The sounds of files that are written side by side.
 * @param span programme frames
 * @returns in the order of the files
 */
export function passSounds(
  project: Project,
  openSource: OpenSource,
  span: { readonly from: number; readonly to: number },
  files: readonly PassFile[],
): readonly PassSound[] {
  // The whole mix is rendered along where something goes by it.
  const follows = files.some(({ clipIds, given, set }) => clipIds && (given.limiter || set !== null));
  const hearings = [...files.map(({ clipIds }) => hearingOf(clipIds)), ...(follows ? [WHOLE_MIX] : [])];
  const sounds = mixSounds(project, openSource, span.from, span.to, hearings);
  const mix = sounds[files.length] ?? null;
  const sums = new Map<string, StemSum>();
  const sumOf = ({ set, treatment, given }: PassFile): StemSum | null => {
    if (set === null || !mix) return null;
    const stems = files.filter((file) => file.set === set).length;
    const sum = sums.get(set) ?? new StemSum(deliveredSound(mix, treatment, given), stems);
    sums.set(set, sum);
    return sum;
  };
  return files.map((file, i) => ({
    sound: deliveredSound(sounds[i]!, file.treatment, file.given, file.clipIds && mix),
    sum: sumOf(file),
  }));
}
