import { performance } from 'node:perf_hooks';
import { openSync, readSync, fstatSync } from 'node:fs';
import type { ByteSource } from '@/core/audio/byteSource';
import { STEREO } from '@/core/audio/layout';
import type { AudioReader } from '@/core/audio/reader';
import { openPcm } from '@/core/formats/openPcm';
import { MovingFigures } from '@/core/measuring/movingFigures';
import { overChannels } from '@/core/loudness/sound';
import { weightedEnergy } from '@/core/loudness/subBlocks';
import { changeGain } from '@/core/programme/edits/gain';
import {
  PLAIN_CLIP,
  PLAIN_TRACK,
  programmeFrames,
  type Clip,
  type Project,
  type Source,
} from '@/core/programme/model';
import { newProject } from '@/core/programme/newProject';
import { movingRanges } from '@/core/measuring/moving';
import { measureMoving } from '@/core/measuring/measureMoving';
import { ProgrammeMeasurement } from '@/core/measuring/programmeMeasurement';
import type { OpenSource } from '@/core/signal/source';
import { makeProgramme } from './makeProgramme';

const RATE = 48_000;
const TRACKS = 12;
const CLIPS = 1_500;
const SOURCE_MINUTES = 3;

function fileSource(path: string): ByteSource {
  const file = openSync(path, 'r');
  return {
    size: fstatSync(file).size,
    read(offset, length, into) {
      const bytes = into && into.length >= length ? into : Buffer.allocUnsafe(length);
      return Promise.resolve(bytes.subarray(0, readSync(file, bytes, 0, length, offset)));
    },
  };
}

/** An hour of clips of 4 to 20 s on twelve tracks, each track one clip after the other with gaps. */
function makeProject(minutes: number, sources: readonly Source[]): Project {
  const clips: Clip[] = [];
  const perTrack = Math.round((CLIPS * minutes) / 60 / TRACKS);
  const slot = (minutes * 60 * RATE) / perTrack;
  for (let track = 0; track < TRACKS; track++) {
    for (let i = 0; i < perTrack; i++) {
      const n = track * perTrack + i;
      const length = Math.min(slot, (4 + ((n * 7) % 17)) * RATE);
      clips.push({
        id: `c${n}`,
        trackId: `t${track}`,
        sourceId: sources[n % sources.length]!.id,
        name: `clip ${n}`,
        start: Math.round(i * slot + (n % 5) * 0.1 * RATE),
        length: Math.round(length),
        sourceStart: ((n * 13) % 150) * RATE,
        ...PLAIN_CLIP,
        gain: { ...PLAIN_CLIP.gain, db: -6 - (n % 12) },
      });
    }
  }
  const tracks = Array.from({ length: TRACKS }, (_, i) => ({
    id: `t${i}`,
    name: `Track ${i + 1}`,
    role: 'dialogue' as const,
    ...PLAIN_TRACK,
  }));
  return { ...newProject('bench', 'Bench', 't0'), sources, tracks, clips };
}

export async function timed<T>(work: () => Promise<T> | T): Promise<[ms: number, result: T]> {
  const start = performance.now();
  const result = await work();
  return [performance.now() - start, result];
}

/** A programme of many clips, and what opens its sources. */
export async function openProgramme(
  minutes: number,
): Promise<{ readonly project: Project; readonly open: OpenSource }> {
  const paths = (['speech', 'music'] as const).map((kind) =>
    makeProgramme({ kind, minutes: SOURCE_MINUTES, channels: 2, sampleRate: RATE, format: 's24' }),
  );
  const readers = new Map<string, AudioReader>();
  for (const path of paths) readers.set(path, await openPcm(fileSource(path)));
  const sources = paths.map((path): Source => ({
    id: path,
    name: path,
    audioKey: path,
    byteLength: 0,
    folder: '',
    container: 'WAV',
    codec: 'PCM 24-bit',
    sampleRate: RATE,
    layout: STEREO,
    frames: SOURCE_MINUTES * 60 * RATE,
    partial: false,
    warnings: [],
    speech: null,
    trimDb: 0,
    timeReference: null,
  }));
  const open: OpenSource = (source) => Promise.resolve(readers.get(source.id)!);
  return { project: makeProject(minutes, sources), open };
}

/** A programme of many clips: measuring all of it, and what one clip's gain costs while it moves and when it rests. */
export async function benchProgramme(minutes: number): Promise<string[]> {
  const { project, open } = await openProgramme(minutes);
  const seconds = programmeFrames(project) / RATE;
  const measurement = new ProgrammeMeasurement();
  measurement.update(project);
  const [full] = await timed(() => measurement.measure(open, () => true));
  const heap = process.memoryUsage();
  const middle = project.clips.filter(({ length }) => length === 10 * RATE);
  const clip = middle[Math.floor(middle.length / 2)]!;
  const ids = new Set([clip.id]);
  const moving = { kind: 'gain', ids } as const;
  const [sumsMs, sums] = await timed(() =>
    measureMoving(project, moving, movingRanges(project, moving)[0]!, open, () => true),
  );
  const { history } = measurement;
  const levels = {
    energy: weightedEnergy(history!),
    sampleRate: RATE,
    truePeaks: overChannels(history!.truePeak),
  };
  const [readyMs, figures] = await timed(() => new MovingFigures(levels, sums!));
  const frames: number[] = [];
  for (let i = 0; i < 200; i++) frames.push((await timed(() => figures.at(i / 20 - 5)))[0]);
  frames.sort((a, b) => a - b);
  const [restMs] = await timed(async () => {
    measurement.update(changeGain(project, ids, { kind: 'change', db: -3 }));
    await measurement.measure(open, () => true);
  });
  const part = (ms: number): string => `1 : ${(full / ms).toFixed(0)} of a full measurement`;
  const ms = (value: number): string => `${value.toFixed(1)} ms`;
  return [
    `Programme of ${project.clips.length} clips on ${TRACKS} tracks, ${(seconds / 60).toFixed(0)} min, one worker`,
    `  measured whole             ${(seconds / (full / 1000)).toFixed(0)} × real time`,
    `  sums of one clip of 10 s   ${ms(sumsMs)}, made ready in ${ms(readyMs)}; ${part(sumsMs + readyMs)}`,
    `  each frame of a drag       ${ms(frames[100]!)} (at most ${ms(frames.at(-1)!)}); ${part(frames[100]!)}`,
    `  measured after release     ${ms(restMs)}; ${part(restMs)}`,
    `  heap ${(heap.heapUsed / 1e6).toFixed(0)} MB, arrays ${(heap.arrayBuffers / 1e6).toFixed(0)} MB`,
  ];
}
