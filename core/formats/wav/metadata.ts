import type { ByteSource } from '@/core/audio/byteSource';
import { NO_METADATA, type AudioMetadata, type Marker, type StatedLoudness } from '@/core/audio/metadata';
import { fourCc, textIn, utf8In, viewOf, type Chunk } from '../chunks';
import { LOUDNESS_AT, NOT_STATED } from './bext';

/** More than this in all is not read: metadata are text, not a place for gigabytes. */
const MOST_BYTES = 4 * 1024 * 1024;
const MOST_MARKERS = 10_000;

function statedLoudness(view: DataView): StatedLoudness | null {
  if (view.byteLength < 422 || view.getUint16(346, true) < 2) return null;
  const value = (offset: number): number | null => {
    const hundredths = view.getInt16(offset, true);
    return hundredths === NOT_STATED ? null : hundredths / 100;
  };
  const loudness = {
    integratedLufs: value(LOUDNESS_AT),
    loudnessRangeLu: value(LOUDNESS_AT + 2),
    maxTruePeakDbtp: value(LOUDNESS_AT + 4),
    maxMomentaryLufs: value(LOUDNESS_AT + 6),
    maxShortTermLufs: value(LOUDNESS_AT + 8),
  };
  // All zero is what writers leave that know the version but not the figures.
  return Object.values(loudness).some((figure) => figure !== null && figure !== 0) ? loudness : null;
}

/** The broadcast extension. Source: EBU Tech 3285, clause 2.3. */
function readBext(bytes: Uint8Array, metadata: AudioMetadata): AudioMetadata {
  if (bytes.length < 348) return metadata;
  const view = viewOf(bytes);
  const date = textIn(bytes, 320, 10);
  const time = textIn(bytes, 330, 8);
  return {
    ...metadata,
    description: textIn(bytes, 0, 256),
    originator: textIn(bytes, 256, 32),
    originated: [date, time].filter(Boolean).join(' ') || null,
    timeReference: view.getUint32(338, true) + view.getUint32(342, true) * 2 ** 32,
    loudness: statedLoudness(view),
    codingHistory: textIn(bytes, 602, bytes.length),
  };
}

/** Cue points by their id, frames. Source: RIFF/WAVE, cue chunk. */
function readCues(bytes: Uint8Array): Map<number, number> {
  const cues = new Map<number, number>();
  if (bytes.length < 4) return cues;
  const view = viewOf(bytes);
  const count = Math.min(view.getUint32(0, true), MOST_MARKERS, Math.floor((bytes.length - 4) / 24));
  for (let i = 0; i < count; i++)
    cues.set(view.getUint32(4 + 24 * i, true), view.getUint32(24 + 24 * i, true));
  return cues;
}

/** Labels of cue points. Source: RIFF/WAVE, associated data list. */
function readLabels(bytes: Uint8Array): Map<number, string> {
  const labels = new Map<number, string>();
  if (fourCc(bytes, 0) !== 'adtl') return labels;
  const view = viewOf(bytes);
  for (let at = 4; at + 12 <= bytes.length && labels.size < MOST_MARKERS;) {
    const size = view.getUint32(at + 4, true);
    if (fourCc(bytes, at) === 'labl' && size >= 4) {
      const label = utf8In(bytes.subarray(at + 12, at + 8 + size));
      if (label) labels.set(view.getUint32(at + 8, true), label);
    }
    at += 8 + size + (size % 2);
  }
  return labels;
}

/** Gathers what a WAV file's chunks say beside the sound. */
export class WavMetadata {
  private found: AudioMetadata = NO_METADATA;
  private cues = new Map<number, number>();
  private labels = new Map<number, string>();
  private bytes = 0;
  private skipped = false;

  /** Looks at a chunk, and reads it if it holds metadata. */
  async take(source: ByteSource, { id, offset, size }: Chunk): Promise<void> {
    if (!['bext', 'cue ', 'LIST', 'iXML'].includes(id)) return;
    if (this.bytes + size > MOST_BYTES) {
      this.skipped = true;
      return;
    }
    this.bytes += size;
    const bytes = await source.read(offset, size);
    if (id === 'bext') this.found = readBext(bytes, this.found);
    else if (id === 'cue ') this.cues = readCues(bytes);
    else if (id === 'iXML') this.found = { ...this.found, ixml: utf8In(bytes) };
    else for (const [cue, label] of readLabels(bytes)) this.labels.set(cue, label);
  }

  /** What was not read, as full sentences. */
  get warnings(): readonly string[] {
    return this.skipped
      ? ['The file holds more text beside its sound than 4 MB; not all of it was read.']
      : [];
  }

  done(): AudioMetadata {
    const markers: Marker[] = [...this.cues].map(([id, frame]) => ({
      frame,
      label: this.labels.get(id) ?? `Marker ${id}`,
    }));
    return { ...this.found, markers: markers.sort((a, b) => a.frame - b.frame) };
  }
}
