/** Why it is not certain that what was measured is the whole of a sound, unaltered. */
export type IntegrityKind =
  /** The file ends before its sound does. */
  | 'truncated'
  /** Parts of it could not be decoded. */
  | 'damaged'
  /** The file does not say how long its sound is, or contradicts itself. */
  | 'lengthUncertain'
  /** Bytes of the file belong to nothing that was read. */
  | 'unread'
  /** Samples are not numbers, or beyond all bounds. */
  | 'notFinite'
  /** The file does not say what its channels are, or contradicts itself. */
  | 'layoutAssumed'
  /** It was decoded otherwise than it is stored. */
  | 'altered'
  /** Clips that belong to the programme are in none of its figures. */
  | 'leftOut';

/** One reason not to certify a sound: whatever states a verdict states it too. */
export interface IntegrityFault {
  readonly kind: IntegrityKind;
  /** A full sentence. */
  readonly sentence: string;
}

/** How whole a sound is, and what is said of that. */
export interface Integrity {
  /** The file ends before its sound does; what is there can be read, but is not the whole. */
  readonly partial: boolean;
  /** Why its figures cannot be certified; empty where it is whole as far as can be told. */
  readonly integrity: readonly IntegrityFault[];
  /** What is odd about it though it can be read, as full sentences, those of {@link integrity} first. */
  readonly warnings: readonly string[];
}

/** Faults that mean that something of the sound is missing. */
const MISSING: readonly IntegrityKind[] = ['truncated', 'damaged'];

export const layoutFault = (sentence: string): IntegrityFault => ({ kind: 'layoutAssumed', sentence });

/** How faults and other remarks stand in a format. */
export const withFaults = (
  integrity: readonly IntegrityFault[],
  remarks: readonly string[] = [],
): Integrity => ({
  integrity,
  partial: integrity.some(({ kind }) => MISSING.includes(kind)),
  warnings: [...integrity.map(({ sentence }) => sentence), ...remarks],
});

/** A format with one more fault. */
const addFault = <F extends Integrity>(format: F, fault: IntegrityFault): F => ({
  ...format,
  ...withFaults(
    [...format.integrity, fault],
    format.warnings.filter((warning) => format.integrity.every(({ sentence }) => sentence !== warning)),
  ),
});

/** A format without its faults of a kind: of what was assumed and has been declared since. */
export const withoutFaults = <F extends Integrity>(format: F, kind: IntegrityKind): F => {
  const sentences = new Set(
    format.integrity.filter((fault) => fault.kind === kind).map(({ sentence }) => sentence),
  );
  if (sentences.size === 0) return format;
  return {
    ...format,
    ...withFaults(
      format.integrity.filter((fault) => fault.kind !== kind),
      format.warnings.filter(
        (warning) =>
          !sentences.has(warning) && format.integrity.every(({ sentence }) => sentence !== warning),
      ),
    ),
  };
};

/** A format with what was found in its samples. @param notFinite samples that were read as silence */
export function withNotFinite<F extends Integrity>(format: F, notFinite: number): F {
  if (notFinite === 0) return format;
  const samples = notFinite === 1 ? '1 sample is' : `${notFinite.toLocaleString('en')} samples are`;
  const sentence = `${samples} not a number or out of range and counted as silence.`;
  return addFault(format, { kind: 'notFinite', sentence });
}
