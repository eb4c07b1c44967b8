/** Why measured audio may not be complete and unaltered. */
export type IntegrityKind =
  /** The file ends before its audio does. */
  | 'truncated'
  /** Parts of it could not be decoded. */
  | 'damaged'
  /** The file does not state its length, or contradicts itself. */
  | 'lengthUncertain'
  /** Bytes of the file were not read. */
  | 'unread'
  /** Samples are not a number, or out of range. */
  | 'notFinite'
  /** The file does not state its channel layout, or contradicts itself. */
  | 'layoutAssumed'
  /** Decoding or conversion changed the audio. */
  | 'altered'
  /** Clips of the programme are not part of its figures. */
  | 'leftOut';

/** One reason not to certify audio; every output that states a verdict states it too. */
export interface IntegrityFault {
  readonly kind: IntegrityKind;
  /** A full sentence. */
  readonly sentence: string;
}

/** Whether audio is complete, with faults and warnings. */
export interface Integrity {
  /** Some of the audio is missing; what is present can be read. */
  readonly partial: boolean;
  /** Faults for which its figures cannot be certified; empty if none is known. */
  readonly integrity: readonly IntegrityFault[];
  /** Warnings as full sentences, those of {@link integrity} first. */
  readonly warnings: readonly string[];
}

/** Faults that mean that audio is missing. */
const MISSING: readonly IntegrityKind[] = ['truncated', 'damaged'];

export const layoutFault = (sentence: string): IntegrityFault => ({ kind: 'layoutAssumed', sentence });

/** Integrity of a format, from its faults and other remarks. */
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

/** A format without its faults of one kind, such as an assumed layout once it is declared. */
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

/** A format with a fault for non-finite samples. @param notFinite count of samples that were read as silence */
export function withNotFinite<F extends Integrity>(format: F, notFinite: number): F {
  if (notFinite === 0) return format;
  const samples = notFinite === 1 ? '1 sample is' : `${notFinite.toLocaleString('en')} samples are`;
  const sentence = `${samples} not a number or out of range and counted as silence.`;
  return addFault(format, { kind: 'notFinite', sentence });
}
