/** Makes the demo's sound files. See README.md in this folder. */
import { spawnSync } from 'node:child_process';
import { mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { bytesSource } from '@/core/audio/byteSource';
import { layoutFor } from '@/core/audio/layout';
import { encodePcm } from '@/core/audio/pcm';
import { rateConverter } from '@/core/audio/resample';
import { openPcm } from '@/core/formats/openPcm';
import { wavFrame } from '@/core/formats/wav/write';
import { figuresOf } from '@/core/loudness/figures';
import { LoudnessMeter } from '@/core/loudness/meter';
import { SPEECH, type Spoken } from './script';
import { alarm, generatorRoom, laugh, musicBed, randomFrom, wind } from './synth';

const RATE = 48_000;
const OUT = new URL('../public/demo/', import.meta.url);
mkdirSync(OUT, { recursive: true });

/** 16-bit PCM with triangular dither, or 24-bit. */
function write(file: string, channels: Float32Array[], rate: number, bits: 16 | 24): void {
  const frames = channels[0]!.length;
  const layout = layoutFor(channels.length);
  let bytes: Uint8Array;
  let header: Uint8Array;
  if (bits === 24) {
    header = wavFrame({ sampleRate: rate, layout, format: 's24', frames }).header;
    bytes = encodePcm(channels, frames, 's24').bytes;
  } else {
    const random = randomFrom(frames);
    const data = new Int16Array(frames * channels.length);
    for (let i = 0; i < frames; i++) {
      channels.forEach((channel, c) => {
        const dither = (random() + random()) / 2;
        data[i * channels.length + c] = Math.max(
          -32768,
          Math.min(32767, Math.round(channel[i]! * 32768 + dither)),
        );
      });
    }
    bytes = new Uint8Array(data.buffer);
    const head = new DataView(new ArrayBuffer(44));
    const text = (at: number, value: string): void =>
      [...value].forEach((char, i) => head.setUint8(at + i, char.charCodeAt(0)));
    text(0, 'RIFF');
    head.setUint32(4, 36 + bytes.length, true);
    text(8, 'WAVEfmt ');
    head.setUint32(16, 16, true);
    head.setUint16(20, 1, true);
    head.setUint16(22, channels.length, true);
    head.setUint32(24, rate, true);
    head.setUint32(28, rate * channels.length * 2, true);
    head.setUint16(32, channels.length * 2, true);
    head.setUint16(34, 16, true);
    text(36, 'data');
    head.setUint32(40, bytes.length, true);
    header = new Uint8Array(head.buffer);
  }
  writeFileSync(new URL(file, OUT), Buffer.concat([header, bytes]));
  const figures = figuresOf(measure(channels, rate));
  const size = ((header.length + bytes.length) / 1e6).toFixed(2);
  console.log(
    `${file.padEnd(34)} ${(frames / rate).toFixed(1)} s  ${size} MB  ${figures.integratedLufs?.toFixed(1)} LUFS  ${figures.truePeakDbtp?.toFixed(1)} dBTP`,
  );
}

function measure(channels: Float32Array[], rate: number) {
  const meter = new LoudnessMeter(layoutFor(channels.length), rate);
  meter.push(channels);
  return meter.finish();
}

/** Scales sound to a loudness. */
function toLoudness(channels: Float32Array[], rate: number, lufs: number): Float32Array[] {
  const now = figuresOf(measure(channels, rate)).integratedLufs!;
  const gain = 10 ** ((lufs - now) / 20);
  return channels.map((channel) => channel.map((x) => x * gain));
}

function resample(samples: Float32Array, from: number, to: number): Float32Array {
  const converter = rateConverter(from, to);
  const frames = converter.outputLength(samples.length);
  const start = converter.inputStart(0);
  const input = new Float32Array(converter.inputCount(0, frames));
  for (let i = 0; i < input.length; i++) input[i] = samples[start + i] ?? 0;
  return converter.convert(input, 0, frames);
}

async function speak({
  text,
  voice,
  speed,
  pitch,
}: Spoken): Promise<{ samples: Float32Array; rate: number }> {
  const path = join(tmpdir(), `frostline-${process.pid}.wav`);
  const { status, error } = spawnSync('espeak-ng', [
    '-v',
    voice,
    '-s',
    String(speed),
    '-p',
    String(pitch),
    '-w',
    path,
    text,
  ]);
  if (error || status !== 0)
    throw new Error('espeak-ng is needed to make the demo: apt-get install espeak-ng');
  const reader = await openPcm(bytesSource(new Uint8Array(readFileSync(path))));
  rmSync(path);
  const [samples] = await reader.read(0, reader.format.frames);
  return { samples: samples!, rate: reader.format.sampleRate };
}

/** A few early reflections and a short tail. */
function room(x: Float32Array, rate: number, amount: number): Float32Array {
  const out = Float32Array.from(x);
  [0.0113, 0.0187, 0.0271, 0.0379].forEach((delay, n) => {
    const shift = Math.round(delay * rate);
    for (let i = shift; i < out.length; i++) out[i]! += amount * 0.7 ** n * x[i - shift]!;
  });
  return out;
}

/** First-order high-pass and low-pass, several times over: the band of a two-way radio. */
function band(x: Float32Array, rate: number, low: number, high: number): Float32Array {
  const out = Float32Array.from(x);
  const a = Math.exp((-2 * Math.PI * low) / rate);
  const b = 1 - Math.exp((-2 * Math.PI * high) / rate);
  for (let pass = 0; pass < 3; pass++) {
    let before = 0;
    let held = 0;
    let smooth = 0;
    for (let i = 0; i < out.length; i++) {
      held = a * (held + out[i]! - before);
      before = out[i]!;
      smooth += b * (held - smooth);
      out[i] = smooth;
    }
  }
  return out;
}

/** A longer file with silence around it, so that voices do not begin on the first sample. */
function pad(x: Float32Array, rate: number, before: number, after: number): Float32Array {
  const out = new Float32Array(x.length + Math.round((before + after) * rate));
  out.set(x, Math.round(before * rate));
  return out;
}

async function makeSpeech(spoken: Spoken): Promise<void> {
  const { samples, rate } = await speak(spoken);
  const { place, loudness, file } = spoken;
  const random = randomFrom(samples.length);
  if (place === 'radio') {
    let x = band(pad(samples, rate, 0.35, 0.4), rate, 420, 2700);
    const [level] = toLoudness([x], rate, -14);
    x = level!.map((value, i) => Math.tanh(value * 3) / 3 + 0.006 * random() * (1 + 0.4 * Math.sin(i / 700)));
    write(file, toLoudness([x], rate, loudness), rate, 16);
    return;
  }
  let x = resample(pad(samples, rate, 0.25, 0.35), rate, RATE);
  if (place !== 'studio') x = room(x, RATE, place === 'indoors' ? 0.34 : 0.1);
  let [level] = toLoudness([x], RATE, loudness);
  if (place === 'outdoors') {
    const gusts = toLoudness([wind(x.length / RATE, RATE, 300 + x.length)[0]!], RATE, loudness - 16)[0]!;
    // The recorder's input was set for indoors: the loudest syllables lean on full scale.
    level = level!.map((value, i) => Math.tanh((value + gusts[i]!) * 1.05) * 0.97);
  }
  const floor = 10 ** ((place === 'studio' ? -78 : -72) / 20);
  level = level!.map((value) => value + floor * random());
  if (file.startsWith('mechanic')) level = withLaugh(level);
  write(file, [level], RATE, 16);
}

/** The joke lands: one laugh after the last word, as loud as the recording can hold. */
function withLaugh(voice: Float32Array): Float32Array {
  const burst = laugh(RATE);
  const peak = burst.reduce((most, x) => Math.max(most, Math.abs(x)), 0);
  const out = new Float32Array(voice.length + burst.length + RATE / 4);
  out.set(voice);
  burst.forEach((x, i) => (out[voice.length - RATE / 10 + i]! += (x / peak) * 0.93));
  return out;
}

for (const spoken of SPEECH) await makeSpeech(spoken);
write('ambience-wind-ridge.wav', toLoudness(wind(11, 44_100, 5), 44_100, -33), 44_100, 24);
write('ambience-hut-generator.wav', toLoudness(generatorRoom(11, RATE, 9), RATE, -45), RATE, 16);
write('music-frostline-theme.wav', musicBed(16.2, RATE), RATE, 16);
write('frost-alarm.wav', toLoudness([alarm(RATE)], RATE, -13), RATE, 16);
