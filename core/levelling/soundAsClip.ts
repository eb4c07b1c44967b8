import type { SoundMeasurement } from '@/core/loudness/sound';
import { PLAIN_CLIP } from '@/core/programme/model';
import { wholeSoundMeasurement } from '@/core/measuring/measureClip';
import type { MeasuredClip } from './proposal';

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
  return { clip, measurement: sound && wholeSoundMeasurement(sound, frames) };
}
