import type { AudioMetadata, StatedLoudness } from '@/core/audio/metadata';
import { asciiOf, HeaderBytes } from '../headerBytes';

/** Says nothing of a figure. Source: EBU Tech 3285, Supplement 6. */
export const NOT_STATED = 0x7fff;
/** Where the loudness figures stand in the chunk, bytes. Source: EBU Tech 3285, clause 2.3. */
export const LOUDNESS_AT = 412;

/** The loudness figures of a file as they stand in its broadcast extension, in hundredths. */
export function loudnessBytes(stated: StatedLoudness | null): Uint8Array<ArrayBuffer> {
  const { integratedLufs, loudnessRangeLu, maxTruePeakDbtp, maxMomentaryLufs, maxShortTermLufs } =
    stated ?? {};
  const out = new HeaderBytes();
  for (const value of [integratedLufs, loudnessRangeLu, maxTruePeakDbtp, maxMomentaryLufs, maxShortTermLufs])
    out.u16(value === null || value === undefined ? NOT_STATED : Math.round(value * 100));
  return out.done();
}

/**
 * The content of a broadcast extension, version 2. Texts are ASCII there.
 * @param metadata `originated` as “2026-01-31 21:04:00”
 * Source: EBU Tech 3285, clause 2.3 and Supplement 6.
 */
export function bextBytes(metadata: AudioMetadata): Uint8Array<ArrayBuffer> {
  const { description, originator, originated, timeReference, codingHistory, loudness } = metadata;
  const [date = '', time = ''] = (originated ?? '').split(' ');
  return new HeaderBytes()
    .field(asciiOf(description ?? ''), 256)
    .field(asciiOf(originator ?? ''), 32)
    .field('', 32)
    .field(date, 10)
    .field(time, 8)
    .u64(timeReference ?? 0)
    .u16(2)
    .raw(new Uint8Array(64))
    .raw(loudnessBytes(loudness))
    .raw(new Uint8Array(180))
    .text(asciiOf(codingHistory ?? ''))
    .done();
}
