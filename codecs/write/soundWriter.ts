import type { PlacedSink, SoundWriter } from '@/core/audio/soundWriter';
import { pcmWriter } from '@/core/formats/pcmWriter';
import type { WrittenFile } from './writtenFile';

/**
 * Opens a writer for a kind of file. Its channels come in the order of the layout.
 * @throws AudioFileError when the kind cannot hold it
 */
export async function soundWriter(file: WrittenFile, sink: PlacedSink): Promise<SoundWriter> {
  const { sampleRate, layout, frames, metadata, part } = file;
  const { kind, depth, dither } = file.format;
  const plain = {
    sampleRate,
    layout,
    frames,
    format: depth,
    dither: dither && depth === 's16',
    ...(part && { part }),
  };
  switch (kind) {
    case 'wav':
      return pcmWriter({ ...plain, kind }, sink);
    case 'bwf':
      return pcmWriter({ ...plain, metadata, kind: 'wav' }, sink);
    case 'rf64':
    case 'bw64':
    case 'aiff':
      return pcmWriter({ ...plain, metadata, kind }, sink);
    default: {
      // Coders are large: they are loaded for a file that needs one.
      const { mediaWriter } = await import('./mediaWriter');
      return mediaWriter(file, sink);
    }
  }
}
