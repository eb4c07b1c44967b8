import { measurePool } from '@/engine/measurePool';
import type { Failure, FileMeasurement, Outcome } from '@/engine/protocol';
import type { SoundMeasurement } from '@/core/loudness/sound';
import type { Source } from '@/core/programme/model';
import { sourceFaults } from '@/core/programme/damagedSources';
import { newSource } from '@/core/programme/newSource';
import { wholeSoundMeasurement } from '@/core/measuring/measureClip';
import { soundKey } from '@/core/signal/clipKey';
import { wholeSource } from '@/core/signal/clipSound';
import { getAudio, keepsFiles, newAudioKey, putAudio, putAudioRecord } from '@/storage/audio';

import { storageError } from '@/storage/failure';
import { removeSoundFile } from '@/storage/soundFiles';
import { putClipMeasurement, putSourceMeasurement, sourceKey } from '@/storage/measurements';
import { newId } from './newId';

export interface Imported {
  readonly source: Source;
  readonly measurement: SoundMeasurement;
  /** The sound as it is kept: the file itself, or the WAV it was decoded to. */
  readonly blob: Blob;
}

/** Which part of bringing a file in is under way. */
export type ImportPhase = 'waiting' | 'measuring' | 'keeping';

/** What of a measured file is kept. */
export function keptOf(measurement: FileMeasurement): SoundMeasurement {
  const { figures, details, energy, truePeaks, overview, sampleRate } = measurement;
  return { figures, details, energy, truePeaks, overview, sampleRate };
}

async function keep(
  { pcm, stored }: { readonly pcm: Blob; readonly stored: boolean },
  source: Source,
  measured: FileMeasurement,
  signal: AbortSignal,
  onProgress: (done: number) => void,
): Promise<Outcome<Imported>> {
  try {
    if (stored) await putAudioRecord(source.audioKey, pcm.size);
    else if (!(await putAudio(source.audioKey, pcm, signal, onProgress))) return { cancelled: true };
    const measurement = keptOf(measured);
    await putSourceMeasurement(sourceKey(source), measurement);
    // Placed whole in a programme of its own rate and layout, a clip of it measures just the same.
    await putClipMeasurement(
      soundKey(wholeSource(source)),
      wholeSoundMeasurement(measurement, source.frames),
    );
    // From now on it is read from where it is stored: the file it came from may be moved or change.
    return { ok: { source, measurement, blob: (await getAudio(source.audioKey)) ?? pcm } };
  } catch (error) {
    const { code, message, hint } = storageError(error);
    return { failure: { code, message, hint } satisfies Failure };
  }
}

/**
 * Measures a file and keeps its sound and its measurement.
 * @param track which of its sounds, from 0
 */
export async function importFile(
  file: Blob,
  name: string,
  signal: AbortSignal,
  onProgress: (phase: ImportPhase, done: number) => void,
  track = 0,
): Promise<Outcome<Imported>> {
  const audioKey = newAudioKey(newId());
  const outcome = await measurePool().measureFile(
    file,
    signal,
    (done) => onProgress('measuring', done),
    { track, layoutId: null, range: null },
    (await keepsFiles()) ? audioKey : null,
  );
  if (!('ok' in outcome)) {
    void removeSoundFile(audioKey);
    return outcome;
  }
  const { measurement } = outcome.ok;
  const source = newSource({ id: newId(), name, audioKey, byteLength: file.size }, measurement.format);
  onProgress('keeping', 0);
  return keep(outcome.ok, source, measurement, signal, (done) => onProgress('keeping', done));
}

/** Puts mono sources together as one of several channels, measures it and keeps it. */
export async function combineSources(
  parts: readonly { readonly source: Source; readonly blob: Blob }[],
  layoutId: string,
  name: string,
  signal: AbortSignal,
  onProgress: (phase: ImportPhase, done: number) => void,
): Promise<Outcome<Imported>> {
  const blobs = parts.map(({ blob }) => blob);
  const written = await measurePool().combine(blobs, layoutId, signal, (done) =>
    onProgress('measuring', done / 2),
  );
  if (!('ok' in written)) return written;
  const progress = (phase: ImportPhase, done: number): void =>
    onProgress(phase, phase === 'measuring' ? 0.5 + done / 2 : done);
  const imported = await importFile(written.ok.blob, name, signal, progress);
  if (!('ok' in imported)) return imported;
  const told = parts.flatMap(({ source }) => source.warnings.map((text) => `${source.name}: ${text}`));
  const warnings = [...imported.ok.source.warnings, ...written.ok.warnings, ...told];
  const partial = parts.some(({ source }) => source.partial);
  const integrity = [
    ...sourceFaults(imported.ok.source),
    ...written.ok.integrity,
    ...parts.flatMap(({ source }) =>
      sourceFaults(source).map(({ kind, sentence }) => ({ kind, sentence: `${source.name}: ${sentence}` })),
    ),
  ];
  const source = { ...imported.ok.source, partial, warnings, integrity };
  return { ok: { ...imported.ok, source } };
}
