import { amplitudeToDb } from '@/core/loudness/decibels';
import type { Delivery } from '@/core/programme/delivery';
import type { Project } from '@/core/programme/model';
import { audibleClips } from '@/core/signal/audible';
import type { ReadSound } from '@/core/signal/limiter/limitedReader';
import { withUnit } from '@/core/text/figures';
import { count } from '@/core/text/words';
import type { DeliveryFile } from './deliveryFiles';
import { isLossy } from './fileKinds';

/** Stems that differ from the mix by less than this add up to it, dBFS: rounding of 32-bit float, many times over. */
const ADDS_UP_DBFS = -100;

/** Stems of one delivery and span that together are the whole mix. */
export interface StemSet {
  readonly id: string;
  readonly keys: ReadonlySet<string>;
}

const setId = ({ delivery, from, to }: DeliveryFile): string => `${delivery.id}/${from}/${to}`;

/** The sets among some files in which every clip that sounds is in exactly one stem. */
export function stemSets(project: Project, files: readonly DeliveryFile[]): readonly StemSet[] {
  const sets = new Map<string, { readonly keys: Set<string>; clips: number; readonly all: Set<string> }>();
  for (const file of files) {
    if (!file.clipIds) continue;
    const id = setId(file);
    const set = sets.get(id) ?? { keys: new Set<string>(), clips: 0, all: new Set<string>() };
    sets.set(id, set);
    set.keys.add(file.key);
    set.clips += file.clipIds.size;
    for (const clip of file.clipIds) set.all.add(clip);
  }
  const heard = audibleClips(project).length;
  return [...sets].flatMap(([id, { keys, clips, all }]) =>
    keys.size > 1 && clips === heard && all.size === heard ? [{ id, keys }] : [],
  );
}

/** What the sum of stems comes to. */
export interface StemSumResult {
  readonly stems: number;
  /** By which any sample differs from the mix at most, linear. */
  readonly largest: number;
}

/** Stems are made in step: more pieces than this are open only where one of them is no longer made. */
const MOST_OPEN = 4;

/** Holds the sum of stems against the mix, sample by sample, while they are made. */
export class StemSum {
  private readonly open = new Map<number, { readonly left: Float32Array[]; missing: number }>();
  private most = 0;
  /** A stem is no longer made: nothing is kept for it. */
  private isBroken = false;

  /**
   * @param mix as it would lie in a file of the stems' layout, rate and level
   * @param stems how many they are
   */
  constructor(
    private readonly mix: ReadSound,
    private readonly stems: number,
  ) {}

  /** Takes a piece of one stem. @param samples one array per channel, full scale = 1 @param at its first frame */
  async take(samples: readonly Float32Array[], at: number): Promise<void> {
    if (this.isBroken) return;
    const frames = samples[0]?.length ?? 0;
    let piece = this.open.get(at);
    if (!piece) {
      if (this.open.size === MOST_OPEN) {
        this.isBroken = true;
        this.open.clear();
        return;
      }
      const mix = await this.mix.read(at, frames);
      piece = { left: mix.map((channel) => channel.slice()), missing: this.stems };
      this.open.set(at, piece);
    }
    piece.left.forEach((left, c) => {
      const own = samples[c]!;
      for (let i = 0; i < frames; i++) left[i]! -= own[i]!;
    });
    if (--piece.missing > 0) return;
    for (const left of piece.left)
      for (const rest of left) {
        const off = Math.abs(rest);
        // What is no number adds up to nothing.
        if (!(off <= this.most)) this.most = Number.isFinite(off) ? off : Infinity;
      }
    this.open.delete(at);
  }

  /** `null` where not all stems came. */
  get result(): StemSumResult | null {
    return this.isBroken || this.open.size > 0 ? null : { stems: this.stems, largest: this.most };
  }
}

/** Whether stems add up to the mix, and that in a sentence. */
export function stemSumWords(
  { stems, largest }: StemSumResult,
  { format }: Delivery,
): { readonly sentence: string; readonly addsUp: boolean } {
  const db = amplitudeToDb(largest);
  const addsUp = db === null || db < ADDS_UP_DBFS;
  const all = count(stems, 'stem');
  const before = format.depth === 'f32' && !isLossy(format) ? '' : ', before they are encoded';
  if (db === null) return { addsUp, sentence: `The ${all} add up to the mix exactly${before}.` };
  return {
    addsUp,
    sentence: addsUp
      ? `The ${all} add up to the mix: no sample differs by more than ${withUnit(db, 'dBFS')}${before}.`
      : `The ${all} do not add up to the mix: samples differ by up to ${withUnit(db, 'dBFS')}.`,
  };
}
