import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { openSound } from '@/codecs/open';
import { bytesSource } from '@/core/audio/byteSource';
import { layoutFor, type Layout } from '@/core/audio/layout';
import { encodePcm, type WriteFormat } from '@/core/audio/pcm';
import { wavFrame } from '@/core/formats/wav/write';
import { figuresOf, type LoudnessFigures } from '@/core/loudness/figures';
import { measureReader } from '@/core/loudness/measureReader';
import { measureStream } from '@/core/loudness/measureStream';

/** A folder for files that a test makes. */
export class TestFiles {
  readonly folder = mkdtempSync(join(tmpdir(), 'dengung-files-'));

  write(name: string, bytes: Uint8Array | string): string {
    const path = join(this.folder, name);
    writeFileSync(path, bytes);
    return path;
  }

  /** A folder of mono sounds. */
  sounds(folder: string, sounds: Readonly<Record<string, Float32Array>>): string {
    mkdirSync(join(this.folder, folder));
    for (const [name, samples] of Object.entries(sounds)) this.wav(join(folder, name), [samples]);
    return join(this.folder, folder);
  }

  wav(
    name: string,
    channels: Float32Array[],
    sampleRate = 48_000,
    format: WriteFormat = 's24',
    layout: Layout = layoutFor(channels.length),
  ): string {
    const frames = channels[0]!.length;
    const { header, trailer } = wavFrame({ sampleRate, layout, format, frames });
    return this.write(name, Buffer.concat([header, encodePcm(channels, frames, format).bytes, trailer]));
  }

  remove(): void {
    rmSync(this.folder, { recursive: true, force: true });
  }
}

/** What a file's bytes measure, decoded and measured here rather than in the browser. */
export async function figuresOfBytes(bytes: Uint8Array): Promise<LoudnessFigures> {
  const sound = await openSound(bytesSource(bytes));
  if (sound.kind === 'stream') {
    const measured = await measureStream(sound.stream, () => true);
    return figuresOf(measured!.measurement.history);
  }
  const measured = await measureReader(sound.reader, () => true);
  return figuresOf(measured!.history);
}
