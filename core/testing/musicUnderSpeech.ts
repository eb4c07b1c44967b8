import { layoutFor } from '@/core/audio/layout';
import type { TimeRange } from '@/core/loudness/levelTrack';
import { integrated } from '@/core/loudness/gating';
import { LoudnessMeter } from '@/core/loudness/meter';
import { weightedEnergy } from '@/core/loudness/subBlocks';
import { gatingBlocks } from '@/core/loudness/windows';
import { measureClip, withBaseGain, type ClipMeasurement } from '@/core/measuring/measureClip';
import { baseDbOf } from '@/core/programme/clipGain';
import { withoutCurve } from '@/core/programme/curveReason';
import { PLAIN_CLIP, type Clip, type Project, type Source } from '@/core/programme/model';
import { clipKey } from '@/core/signal/clipKey';
import { clipSound } from '@/core/signal/clipSound';
import { renderTaps } from '@/core/signal/mix';
import { testProject } from './projects';
import { memoryReader, noise } from './signals';

export const RATE = 48_000;
/** When somebody speaks in it, seconds. */
export const SPEECH: readonly TimeRange[] = [
  { from: 10, to: 16 },
  { from: 17.5, to: 20 },
  { from: 30, to: 36 },
];

/** Speech that is louder the second time; none between. */
const voice = noise(40 * RATE, 0.08, 5).map((x, i) => {
  const t = i / RATE;
  return SPEECH.some(({ from, to }) => t >= from && t < to) ? x * (t > 25 ? 2 : 1) : 0;
});
const READERS = new Map([
  ['voice', memoryReader([voice], RATE)],
  ['theme', memoryReader([noise(40 * RATE, 0.3, 6)], RATE)],
  ['pad', memoryReader([noise(40 * RATE, 0.1, 7)], RATE)],
]);
const open = (source: Source) => Promise.resolve(READERS.get(source.id)!);

/** Forty seconds of a voice over two clips of music. @param musicDb gain of those */
export function musicUnderSpeech(musicDb = 0): Project {
  const base = testProject();
  const source = (id: string): Source => ({
    ...base.sources[0]!,
    ...{ id, name: `${id}.wav`, audioKey: id, sampleRate: RATE, layout: layoutFor(1), frames: 40 * RATE },
    speech: id === 'voice' ? { from: 'voice.srt', ranges: SPEECH } : null,
  });
  const clip = (id: string, trackId: string, db = 0): Clip => ({
    ...{ id, trackId, sourceId: id, name: id, start: 0, length: 40 * RATE, sourceStart: 0 },
    ...PLAIN_CLIP,
    gain: { db, lastChangeDb: db, reason: { kind: 'byHand' } },
  });
  return {
    ...base,
    sources: ['voice', 'theme', 'pad'].map(source),
    clips: [clip('voice', 't0'), clip('theme', 't1', musicDb), clip('pad', 't1', musicDb)],
  };
}

const known = new Map<string, ClipMeasurement>();

/** What is measured of its clips, as they are and without their curves. */
export async function measuresOf(of: Project) {
  const base = baseDbOf(of);
  const measure = async (clip: Clip): Promise<[string, ClipMeasurement]> => {
    const key = clipKey(of, clip)!;
    const reader = READERS.get(clip.sourceId)!;
    const measured = known.get(key) ?? (await measureClip(reader, clipSound(of, clip)!, () => true))!;
    known.set(key, measured);
    return [clip.id, withBaseGain(measured, base(clip))];
  };
  const now = new Map(await Promise.all(of.clips.map(measure)));
  const bare = new Map(await Promise.all(of.clips.map((clip) => measure(withoutCurve(clip)))));
  return { of: (clip: Clip) => now.get(clip.id)!, bare: (clip: Clip) => bare.get(clip.id)! };
}

/** Gated loudness of what some clips sound like together in a range, rendered, LUFS. */
export async function renderedLoudness(
  of: Project,
  ids: readonly string[],
  { from, to }: TimeRange,
): Promise<number> {
  const first = Math.round(from * RATE);
  const [sound] = await renderTaps(of, open, first, Math.round(to * RATE) - first, [
    (clip) => ids.includes(clip.id),
  ]);
  const meter = new LoudnessMeter(layoutFor(2), RATE);
  meter.push(sound!);
  return integrated(gatingBlocks(weightedEnergy(meter.finish()), RATE)).integratedLufs!;
}
