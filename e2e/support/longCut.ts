import { tones } from '@/core/testing/signals';
import type { TestFiles } from './files';

const LONG_TRACKS = 12;
const MEDIA_SECONDS = 60;
const RATE = 25;

const time = (value: number) => ({ OTIO_SCHEMA: 'RationalTime.1', value, rate: RATE });
const range = (start: number, length: number) => ({
  OTIO_SCHEMA: 'TimeRange.1',
  start_time: time(start),
  duration: time(length),
});

/**
 * A cut of one hour, its clips one after the other over twelve tracks, and its only medium: a steady tone.
 * @param clips how many; each is two seconds long
 */
export function longCut(files: TestFiles, clips: number, dbfs: number): { cut: string; media: string } {
  const slot = Math.floor((3600 * RATE) / clips);
  const length = Math.min(slot - 1, 2 * RATE);
  const tracks = Array.from({ length: LONG_TRACKS }, (_, track) => {
    const children: unknown[] = [];
    let at = 0;
    for (let n = track; n < clips; n += LONG_TRACKS) {
      if (n * slot > at) children.push({ OTIO_SCHEMA: 'Gap.1', source_range: range(0, n * slot - at) });
      children.push({
        OTIO_SCHEMA: 'Clip.1',
        name: `take ${n + 1}`,
        source_range: range((n * 7) % (MEDIA_SECONDS * RATE - length), length),
        media_reference: {
          OTIO_SCHEMA: 'ExternalReference.1',
          target_url: 'media/hum.wav',
          available_range: range(0, MEDIA_SECONDS * RATE),
        },
      });
      at = n * slot + length;
    }
    return { OTIO_SCHEMA: 'Track.1', kind: 'Audio', name: `Reel ${track + 1}`, children };
  });
  const timeline = {
    OTIO_SCHEMA: 'Timeline.1',
    name: 'The long night',
    tracks: { OTIO_SCHEMA: 'Stack.1', children: tracks },
  };
  return {
    cut: files.write('long night.otio', JSON.stringify(timeline)),
    media: files.wav('hum.wav', tones([{ dbfs, seconds: MEDIA_SECONDS }], 48_000, 2), 48_000, 's16'),
  };
}
