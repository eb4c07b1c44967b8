import { gatingBlocks } from '@/core/loudness/windows';
import type { SoundMeasurement } from '@/core/loudness/sound';
import { PLAIN_CLIP } from '@/core/programme/model';
import { meanSquareOf, type ClipMeasurement } from '@/core/render/measureClip';
import type { MeasuredClip } from './proposal';

const kept = new WeakMap<SoundMeasurement, ClipMeasurement>();

/** A whole sound's measurement, at its own rate and in its own channels, as that of a clip. */
function asClipMeasurement(sound: SoundMeasurement, frames: number): ClipMeasurement {
  const known = kept.get(sound);
  if (known) return known;
  const { energy, sampleRate, truePeaks, figures, details } = sound;
  const { loudnessRangeLowLufs: lowLufs, loudnessRangeHighLufs: highLufs, positions } = details;
  const measurement: ClipMeasurement = {
    figures,
    blocks: gatingBlocks(energy, sampleRate),
    truePeaks,
    meanSquare: meanSquareOf(energy, frames),
    range: lowLufs === null || highLufs === null ? null : { lowLufs, highLufs },
    maxShortTermAt: positions.maxShortTerm,
    lengthSeconds: frames / sampleRate,
  };
  kept.set(sound, measurement);
  return measurement;
}

/**
 * A sound that is to be levelled before it is used, as a clip of all of it.
 * @param frames of the whole sound, at its own rate
 * @param gainDb what lies on it already, dB
 */
export function soundAsClip(
  id: string,
  name: string,
  sound: SoundMeasurement | null,
  frames: number,
  gainDb = 0,
): MeasuredClip {
  const gain = { ...PLAIN_CLIP.gain, db: gainDb };
  const clip = {
    ...PLAIN_CLIP,
    id,
    name,
    trackId: '',
    sourceId: id,
    start: 0,
    length: 1,
    sourceStart: 0,
    gain,
  };
  return { clip, measurement: sound && asClipMeasurement(sound, frames) };
}
