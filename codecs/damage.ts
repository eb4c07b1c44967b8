import type { StreamEnd } from '@/core/audio/stream';

/** Counts what a decoder complains of, and says it in one sentence at the end. */
export function damage() {
  let count = 0;
  return {
    note(errors: readonly { readonly message: string }[]): void {
      count += errors.length;
    },
    end(more: readonly string[] = []): StreamEnd {
      const warnings =
        count > 0
          ? [
              `${count === 1 ? 'One place' : `${count} places`} in the file could not be decoded; what is there was read.`,
            ]
          : [];
      return { partial: count > 0 || more.length > 0, warnings: [...warnings, ...more] };
    },
  };
}
