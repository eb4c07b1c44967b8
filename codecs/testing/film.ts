import {
  ALL_FORMATS,
  AudioSample,
  AudioSampleSource,
  BufferSource,
  BufferTarget,
  EncodedPacket,
  EncodedPacketSink,
  EncodedVideoPacketSource,
  Input,
  MkvOutputFormat,
  Output,
  type OutputFormat,
} from 'mediabunny';
import { noise } from '@/core/testing/signals';

const RATE = 48_000;
const PER_SECOND = 25;
export const FILM_SECONDS = 3;
export const FILM_PACKETS = FILM_SECONDS * PER_SECOND;

/** A picture as packets whose bytes stand for nothing: to be copied, never decoded. */
const packet = (i: number): EncodedPacket =>
  new EncodedPacket(
    Uint8Array.from({ length: 300 + ((i * 37) % 200) }, (_, k) => (k * 31 + i * 17) & 255),
    i % 12 === 0 ? 'key' : 'delta',
    i / PER_SECOND,
    1 / PER_SECOND,
  );

/** A film with so many sounds, each quieter than the last. */
export async function testFilm(format: OutputFormat, sounds = 1, level = 0.1): Promise<Uint8Array> {
  const output = new Output({ format, target: new BufferTarget() });
  const picture = new EncodedVideoPacketSource('vp9');
  output.addVideoTrack(picture, { ...(format instanceof MkvOutputFormat ? {} : { frameRate: PER_SECOND }) });
  const sources = Array.from({ length: sounds }, () => new AudioSampleSource({ codec: 'pcm-s16' }));
  for (const [i, source] of sources.entries())
    output.addAudioTrack(source, { languageCode: i === 0 ? 'eng' : 'nor' });
  output.setMetadataTags({ title: 'Frostline', artist: 'Hut 4' });
  await output.start();
  for (let i = 0; i < FILM_PACKETS; i++) {
    const meta =
      i === 0 ? { decoderConfig: { codec: 'vp09.00.10.08', codedWidth: 64, codedHeight: 36 } } : undefined;
    await picture.add(packet(i), meta);
  }
  for (const [i, source] of sources.entries()) {
    const x = noise(FILM_SECONDS * RATE, level / (i + 1), i + 1);
    const data = Int16Array.from(x, (value) => Math.round(value * 32_767));
    const sample = new AudioSample({
      data,
      format: 's16',
      numberOfChannels: 1,
      sampleRate: RATE,
      timestamp: 0,
    });
    await source.add(sample);
    sample.close();
    source.close();
  }
  picture.close();
  await output.finalize();
  return new Uint8Array((output.target as BufferTarget).buffer!);
}

export const openedFilm = (bytes: Uint8Array): Input =>
  new Input({ formats: ALL_FORMATS, source: new BufferSource(bytes.slice().buffer) });

/** The packets of its picture, as another program has them. */
export async function packetsOf(bytes: Uint8Array) {
  const [track] = await openedFilm(bytes).getVideoTracks();
  const all: { data: string; type: string; timestamp: number; duration: number }[] = [];
  for await (const one of new EncodedPacketSink(track!).packets())
    all.push({
      data: Buffer.from(one.data).toString('hex'),
      type: one.type,
      timestamp: Math.round(one.timestamp * 1e6) / 1e6,
      duration: Math.round(one.duration * 1e3) / 1e3,
    });
  return all;
}
