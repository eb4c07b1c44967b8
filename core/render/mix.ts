import { programmeLayout } from '@/core/audio/layout';
import type { MixMatrix } from '@/core/audio/mixMatrix';
import type { AudioReader } from '@/core/audio/reader';
import { newMixer, type Mixer } from '@/core/kernels/mixer';
import { dbToAmplitude } from '@/core/loudness/decibels';
import { totalDbOf } from '@/core/programme/clipGain';
import { clipEnd, type Clip, type Project } from '@/core/programme/model';
import { clipMatrix } from './clipMatrix';
import { applyShape, shapedWithin } from './curves';
import { readAtRate, type OpenSource } from './sourceAt';

const ordered = new WeakMap<Project, readonly Clip[]>();

/**
 * Which clips sound: those on tracks that are not muted, in the order in which they are added up. Sums of samples depend
 * on their order by a last bit, so it is one that a clip's place and sound decide, not the history of the project: a cut
 * that went out and came back gives the same file.
 */
export function audibleClips(project: Project): readonly Clip[] {
  const known = ordered.get(project);
  if (known) return known;
  const muted = new Set(project.tracks.filter((track) => track.muted).map((track) => track.id));
  const names = new Map(project.sources.map(({ id, name }) => [id, name]));
  const totalDb = totalDbOf(project);
  const name = ({ sourceId }: Clip): string => names.get(sourceId) ?? '';
  const clips = project.clips
    .filter((clip) => !muted.has(clip.trackId))
    .sort(
      (a, b) =>
        a.start - b.start ||
        a.length - b.length ||
        a.sourceStart - b.sourceStart ||
        (name(a) < name(b) ? -1 : name(a) > name(b) ? 1 : 0) ||
        totalDb(a) - totalDb(b),
    );
  ordered.set(project, clips);
  return clips;
}

/** What of a clip falls into frames [start, start + count) of the programme: from where to where. */
function part(clip: Clip, start: number, count: number): [from: number, to: number] {
  return [Math.max(start, clip.start), Math.min(start + count, clipEnd(clip))];
}

/** Adds one clip's sound, where it falls into what is mixed. */
async function addClip(
  mixer: Mixer,
  matrix: MixMatrix,
  sampleRate: number,
  clip: Clip,
  reader: AudioReader,
  start: number,
  count: number,
  totalDb: number,
): Promise<void> {
  const [from, to] = part(clip, start, count);
  const gain = dbToAmplitude(totalDb);
  const first = clip.sourceStart + from - clip.start;
  const { pcm, format } = reader;
  const shaped = shapedWithin(clip, from - clip.start, to - clip.start);
  if (!pcm || shaped || format.sampleRate !== sampleRate) {
    const samples = await readAtRate(reader, sampleRate, first, to - from);
    if (shaped) applyShape(samples, clip, from - clip.start);
    mixer.add(samples, from - start, matrix, gain);
    return;
  }
  const [begin, end] = [Math.max(0, first), Math.min(format.frames, first + to - from)];
  if (begin >= end) return;
  const bytes = await pcm.readBytes(begin, end - begin);
  mixer.addBytes(bytes, pcm.encoding, end - begin, from - start + begin - first, matrix, gain);
}

/**
 * Renders frames [start, start + count) of the programme: every audible clip with all its gains, summed.
 * Any range fits its neighbours to the bit.
 * @returns one array of `count` samples per channel of the programme's layout
 */
export async function renderRange(
  project: Project,
  openSource: OpenSource,
  start: number,
  count: number,
  clips: readonly Clip[] = audibleClips(project),
): Promise<Float32Array[]> {
  const layout = programmeLayout(project.layoutId);
  const sources = new Map(project.sources.map((source) => [source.id, source]));
  const totalDb = totalDbOf(project);
  const mixer = newMixer(layout.labels.length, count);
  for (const clip of clips) {
    const [from, to] = part(clip, start, count);
    const source = from < to ? sources.get(clip.sourceId) : undefined;
    if (!source) continue;
    const reader = await openSource(source);
    const matrix = clipMatrix(reader.format.layout, layout, clip, project.monoLaw);
    await addClip(mixer, matrix, project.sampleRate, clip, reader, start, count, totalDb(clip));
  }
  return mixer.finish();
}
