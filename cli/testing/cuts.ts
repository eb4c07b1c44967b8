/** A time of an OpenTimelineIO file, 25 a second. */
const time = (value: number) => ({ OTIO_SCHEMA: 'RationalTime.1', value, rate: 25 });

const range = (start: number, length: number) => ({
  OTIO_SCHEMA: 'TimeRange.1',
  start_time: time(start),
  duration: time(length),
});

/** A clip of a medium. @param mediaLength frames of the medium, as the cut says */
export const clip = (url: string, start: number, length: number, gainDb = 0, mediaLength = 500) => ({
  OTIO_SCHEMA: 'Clip.2',
  name: url.replace('.wav', ''),
  source_range: range(start, length),
  media_references: {
    DEFAULT_MEDIA: {
      OTIO_SCHEMA: 'ExternalReference.1',
      target_url: url,
      available_range: range(0, mediaLength),
    },
  },
  effects: [{ OTIO_SCHEMA: 'Effect.1', effect_name: 'Gain', metadata: { gain_db: gainDb } }],
});

export const gap = (length: number) => ({ OTIO_SCHEMA: 'Gap.1', source_range: range(0, length) });

/** The text of a cut with a track, or with another for music. */
export function cutText(voices: readonly object[], music?: readonly object[]): string {
  const track = (name: string, children: readonly object[]) => ({
    ...{ OTIO_SCHEMA: 'Track.1', kind: 'Audio', name, children },
  });
  const children = [track('Voices', voices), ...(music ? [track('Music', music)] : [])];
  const tracks = { OTIO_SCHEMA: 'Stack.1', children };
  return JSON.stringify({ OTIO_SCHEMA: 'Timeline.1', name: 'Reel', tracks });
}
