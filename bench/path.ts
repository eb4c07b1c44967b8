import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { VoiceDetector } from '@/codecs/voice';
import { STEREO } from '@/core/audio/layout';
import { bytesSource } from '@/core/audio/byteSource';
import { openPcm } from '@/core/formats/openPcm';
import { withPlainKernels } from '@/core/kernels/wasmModule';
import { LoudnessMeter } from '@/core/loudness/meter';
import { clipMeasurementOf } from '@/core/measuring/measureClip';
import { ProgrammeMeasurement } from '@/core/measuring/programmeMeasurement';
import { DUCK_TIMING } from '@/core/programme/ducking';
import { movePoints } from '@/core/programme/edits/points';
import { programmeFrames, type Clip, type Limiter, type Project } from '@/core/programme/model';
import { duckProposal } from '@/core/proposals/duck/duckProposal';
import { countWork, limitedReader } from '@/core/signal/limiter/limitedReader';
import { SPEECH_AND_MUSIC } from '@/core/signal/limiter/presets';
import { limiterTiming } from '@/core/signal/limiter/timing';
import { makeProgramme, type Programme } from './makeProgramme';
import { openProgramme, timed } from './programme';

const SECONDS = 60;
/** Read at a time, seconds. */
const PIECE = 8;

/** How fast the limiter alone is on one core, and how much it has to do. @param hotDb gain before it */
async function limiterLine(kind: Programme['kind'], hotDb: number): Promise<string> {
  const file = makeProgramme({ kind, minutes: 1, channels: 2, sampleRate: 48_000, format: 's24' });
  const reader = await openPcm(bytesSource(new Uint8Array(readFileSync(file))));
  const { sampleRate, frames } = reader.format;
  // Reading and decoding are not the limiter's.
  const whole = await reader.read(0, frames);
  const memory = {
    format: reader.format,
    read: (start: number, count: number) =>
      Promise.resolve(
        whole.map((samples) => {
          const piece = new Float32Array(count);
          const from = Math.max(0, start);
          piece.set(samples.subarray(from, Math.max(from, Math.min(frames, start + count))), from - start);
          return piece;
        }),
      ),
  };
  const limiter: Limiter = { ...SPEECH_AND_MUSIC, inputDb: hotDb };
  const counter = countWork(sampleRate, frames);
  const limited = limitedReader(memory, limiter, counter.told);
  const run = async (seconds: number): Promise<number> => {
    const began = performance.now();
    for (let start = 0; start < seconds * sampleRate; start += PIECE * sampleRate)
      await limited.read(start, Math.min(PIECE * sampleRate, frames - start));
    return (performance.now() - began) / 1000 / seconds;
  };
  const cold = await run(SECONDS);
  const took = await run(SECONDS);
  const plain = await withPlainKernels(() => run(PIECE));
  const { maxReductionDb, workingSeconds } = counter.work(limiterTiming(limiter, sampleRate).block);
  const part = Math.round((100 * workingSeconds) / SECONDS);
  const speed = `${(1 / took).toFixed(0).padStart(5)} × real time (${(1 / cold).toFixed(0)} × at first, ${(1 / plain).toFixed(0)} × in plain arithmetic)`;
  return `  ${kind.padEnd(7)} ${`+${hotDb} dB`.padEnd(8)} ${speed}; up to −${maxReductionDb.toFixed(1)} dB, at work ${part} % of the time`;
}

const RATE = 48_000;
/** Every so many clips have a curve; two tracks have a limiter. */
const CURVED = 5;
const LIMITED = 2;
const CROSS = RATE / 2;

/** A programme with crossfades where clips meet, curves on a fifth of them, and limiters on two tracks and the whole. */
function laden(project: Project): Project {
  const clips = project.clips.map((clip, i): Clip => {
    const next = project.clips[i + 1];
    const joined = next?.trackId === clip.trackId;
    const length = joined ? next.start - clip.start + CROSS : clip.length;
    const curve = [0.2, 0.3, 0.6, 0.7].map((part, k) => ({
      at: clip.sourceStart + Math.round(part * length),
      db: k === 1 || k === 2 ? -6 : 0,
    }));
    const fades = { fadeIn: CROSS, fadeOut: CROSS };
    return {
      ...clip,
      ...fades,
      length,
      sourceStart: clip.sourceStart % (120 * RATE),
      curve: i % CURVED === 0 ? curve : [],
    };
  });
  const tracks = project.tracks.map((track, i) => ({
    ...track,
    limiter: i < LIMITED ? SPEECH_AND_MUSIC : null,
  }));
  return { ...project, clips, tracks, limiter: SPEECH_AND_MUSIC };
}

async function ladenLines(minutes: number): Promise<string[]> {
  const { project: plain, open } = await openProgramme(minutes);
  const project = laden(plain);
  const seconds = programmeFrames(project) / RATE;
  const measurement = new ProgrammeMeasurement();
  measurement.update(project);
  const [full] = await timed(() => measurement.measure(open, () => true));
  const clip =
    project.clips.filter(({ curve }) => curve.length > 0)[50 % project.clips.length] ?? project.clips[0]!;
  const at = clip.curve[1]!.at;
  const moved = movePoints(project, { kind: 'clip', id: clip.id }, new Set([at]), { frames: 0, db: -2 });
  const [point] = await timed(async () => {
    measurement.update(moved);
    await measurement.measure(open, () => true);
  });
  return [
    `Programme of ${project.clips.length} clips, ${(seconds / 60).toFixed(0)} min: curves on every ${CURVED}th, crossfades at every join, limiters on ${LIMITED} tracks and the whole, one worker`,
    `  measured whole             ${(seconds / (full / 1000)).toFixed(0)} × real time`,
    `  after moving one point     ${point.toFixed(0)} ms; 1 : ${(full / point).toFixed(0)} of a full measurement`,
  ];
}

/** A ducking proposal for music on two tracks under speech on all others, with everything measured. */
async function duckingLine(minutes: number): Promise<string> {
  const { project } = await openProgramme(minutes);
  const tracks = project.tracks.map((track, i) => ({
    ...track,
    role: i < 2 ? ('music' as const) : track.role,
  }));
  const sources = project.sources.map((source) => ({
    ...source,
    speech: {
      from: 'bench',
      ranges: Array.from({ length: 40 }, (_, i) => ({ from: i * 4.5, to: i * 4.5 + 3 })),
    },
  }));
  const of = { ...project, tracks, sources };
  const meter = new LoudnessMeter(STEREO, RATE);
  meter.push([0, 1].map(() => Float32Array.from({ length: 20 * RATE }, (_, i) => 0.1 * Math.sin(i / 9))));
  const measured = clipMeasurementOf(meter.finish());
  const clips = of.clips.filter(({ trackId }) => trackId === 't0' || trackId === 't1');
  const request = { way: 'distance', amountDb: 0, distanceLu: 18, aloneLu: -4, timing: DUCK_TIMING } as const;
  const [took, proposal] = await timed(() =>
    duckProposal(of, clips, request, { of: () => measured, bare: () => measured }),
  );
  const points = proposal.rows.reduce((sum, { curve }) => sum + curve.length, 0);
  return `Ducking ${clips.length} clips under ${of.clips.length - clips.length}, ${minutes} min: ${took.toFixed(0)} ms, ${points} points; ${((minutes * 60_000) / took).toFixed(0)} × real time`;
}

async function voiceLine(): Promise<string> {
  const minutes = 5;
  const file = makeProgramme({ kind: 'speech', minutes, channels: 2, sampleRate: RATE, format: 's24' });
  const reader = await openPcm(bytesSource(new Uint8Array(readFileSync(file))));
  const model = createRequire(import.meta.url).resolve('@ricky0123/vad-web/dist/silero_vad_v6.onnx');
  const detector = await VoiceDetector.load(readFileSync(model));
  const runs: number[] = [];
  for (let i = 0; i < 2; i++) runs.push((await timed(() => detector.certainty(reader, () => true)))[0]);
  const speed = (ms: number): string => `${((60_000 * minutes) / ms).toFixed(0)} ×`;
  return `Speech found, one core: ${speed(runs[0]!)} real time at first, ${speed(Math.min(...runs))} once warm`;
}

/** What lies on the path of sound, each by itself on one core, and all of it together. */
export async function benchPath(minutes: number): Promise<string[]> {
  const lines = ['Limiter alone, 48 kHz stereo, one core, in pieces of 8 s'];
  for (const [kind, hotDb] of [
    ['speech', 6],
    ['speech', 18],
    ['music', 6],
    ['music', 18],
    ['noise', 6],
  ] as const)
    lines.push(await limiterLine(kind, hotDb));
  return [...lines, await duckingLine(minutes), await voiceLine(), ...(await ladenLines(minutes))];
}
