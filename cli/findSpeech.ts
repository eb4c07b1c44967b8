import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import { VoiceDetector } from '@/codecs/voice';
import { spokenClips } from '@/core/programme/dialogue';
import { foundSpeech, setSpeech } from '@/core/programme/edits/speech';
import type { Project } from '@/core/programme/model';
import type { TimeRange } from '@/core/loudness/levelTrack';
import { voiceRanges } from '@/core/voice/voiceRanges';
import type { OpenSource } from '@/core/signal/source';
import { MediaShelf } from './media';
import type { TaskPool } from './pool';

/** The network of the voice detector, out of its package. */
const model = (): Promise<Uint8Array> =>
  readFile(createRequire(import.meta.url).resolve('@ricky0123/vad-web/dist/silero_vad_v6.onnx'));

/**
 * When somebody speaks in a file, seconds.
 * @param onProgress told the part done, 0 to 1
 */
export async function speechFoundIn(
  file: string,
  pool: TaskPool,
  onProgress: (done: number) => void,
): Promise<readonly TimeRange[]> {
  const shelf = new MediaShelf(pool);
  try {
    const source = await shelf.add(file);
    const detector = await VoiceDetector.load(await model());
    const certainty = await detector.certainty(await shelf.open(source), (done) => {
      onProgress(done);
      return true;
    });
    return voiceRanges(certainty!, source.frames / source.sampleRate);
  } finally {
    await shelf.close();
  }
}

/**
 * The programme with speech found in what is on its tracks for dialogue and narration.
 * @param onProgress told the part done, 0 to 1
 */
export async function withSpeechFound(
  project: Project,
  open: OpenSource,
  onProgress: (done: number) => void,
): Promise<Project> {
  const ids = new Set(spokenClips(project).map(({ sourceId }) => sourceId));
  const sources = project.sources.filter(({ id }) => ids.has(id));
  if (sources.length === 0) return project;
  const detector = await VoiceDetector.load(await model());
  let edited = project;
  for (const [i, source] of sources.entries()) {
    const certainty = await detector.certainty(await open(source), (done) => {
      onProgress((i + done) / sources.length);
      return true;
    });
    edited = setSpeech(edited, source.id, foundSpeech(source, certainty!));
  }
  return edited;
}
