import type { IntegrityFault } from '@/core/audio/integrity';
import type { StreamEnd } from '@/core/audio/stream';
import { clock } from '@/core/text/figures';

/** A place of the sound that is lost. */
interface Lost {
  readonly atSeconds: number;
  readonly seconds: number;
  /** Silence stands in its place; else what follows comes earlier. */
  readonly filled: boolean;
}

const sum = (losses: readonly Lost[]): string =>
  `${losses.reduce((all, { seconds }) => all + seconds, 0).toFixed(2)} s`;

function lostSentence(losses: readonly Lost[]): string {
  const [first] = losses;
  const where =
    losses.length === 1
      ? `${sum(losses)} at ${clock(first!.atSeconds, 2)} of the file ${first!.filled ? 'are damaged and silent' : 'are missing'}`
      : `${losses.length} places of the file are damaged, the first at ${clock(first!.atSeconds, 2)}, ${sum(losses)} in all`;
  const closed = losses.filter(({ filled }) => !filled);
  return `${where}; what is there was read.${closed.length > 0 ? ` What follows comes ${sum(closed)} too early.` : ''}`;
}

/** Counts what a decoder complains of and what is lost, and says it in a few sentences at the end. */
export function damage() {
  let count = 0;
  const losses: Lost[] = [];
  const said = new Set<string>();
  const altered: IntegrityFault[] = [];
  return {
    note(errors: readonly { readonly message: string }[]): void {
      count += errors.length;
    },
    /** @param seconds how much; 0 when that is not known */
    lost(atSeconds: number, seconds: number, filled: boolean): void {
      losses.push({ atSeconds, seconds, filled });
    },
    /** Something else, said once. */
    say(sentence: string): void {
      said.add(sentence);
    },
    /** It was decoded otherwise than it is stored: a full sentence. */
    alter(sentence: string): void {
      altered.push({ kind: 'altered', sentence });
    },
    /** @param more faults that turned out at the end */
    end(more: readonly IntegrityFault[] = []): StreamEnd {
      const places = `${count === 1 ? 'One place' : `${count} places`} in the file could not be decoded; what is there was read.`;
      const damaged = [
        ...(losses.length > 0 ? [lostSentence(losses)] : count > 0 ? [places] : []),
        ...said,
      ].map((sentence): IntegrityFault => ({ kind: 'damaged', sentence }));
      return { integrity: [...damaged, ...more, ...altered], remarks: [] };
    },
  };
}

export type Damage = ReturnType<typeof damage>;

/** More than this is not filled with silence, seconds: a damaged count would make hours of it. */
const MOST_FILLED_SECONDS = 60;
/** The least that a coded second takes, bytes: a file has no room for more sound than that. */
const LEAST_BYTES_A_SECOND = 16;

/** Silence for what is lost, so that what follows stands where it stood. */
export class Filler {
  private left: number;

  /** @param size of the file, bytes */
  constructor(
    private readonly damaged: Damage,
    private readonly sampleRate: number,
    size: number,
  ) {
    this.left = Math.min(MOST_FILLED_SECONDS, size / LEAST_BYTES_A_SECOND) * sampleRate;
  }

  /**
   * Notes that frames are lost.
   * @returns how many frames of silence to put there
   */
  fill(at: number, frames: number): number {
    const filled = frames <= this.left;
    this.damaged.lost(at / this.sampleRate, frames / this.sampleRate, filled && frames > 0);
    if (!filled) return 0;
    this.left -= frames;
    return frames;
  }
}

/** Silence in so many channels. */
export const silence = (channels: number, frames: number): Float32Array[] =>
  Array.from({ length: channels }, () => new Float32Array(frames));
