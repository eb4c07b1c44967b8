import type { AudioFormat } from '@/core/audio/reader';
import { fileSays } from './fileSays';
import type { Source } from './model';

/** A source as it comes in: what its file says, nothing said or corrected yet. */
export function newSource(
  named: Pick<Source, 'id' | 'name' | 'audioKey' | 'byteLength'> & Partial<Pick<Source, 'folder'>>,
  format: AudioFormat,
): Source {
  const { container, codec, sampleRate, layout, frames, partial, warnings, integrity, metadata } = format;
  return {
    folder: '',
    ...named,
    container,
    codec,
    sampleRate,
    layout,
    frames,
    partial,
    warnings,
    integrity,
    speech: null,
    timeReference: metadata?.timeReference ?? null,
    says: fileSays(metadata ?? null),
    trimDb: 0,
  };
}
