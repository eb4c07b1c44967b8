import { besidesDbOf, totalDbOf } from '@/core/programme/clipGain';
import { clipEnd, type Project } from '@/core/programme/model';
import { placeText } from '@/core/programme/timeText';
import { reasonWords } from '@/core/proposals/reasonWords';

const COLUMNS = [
  ...['clip', 'track', 'source', 'from', 'to', 'fromSeconds', 'toSeconds'],
  ...['gainDb', 'trimDb', 'trackAndGroupsDb', 'inAllDb', 'lastChangeDb', 'points', 'muted', 'reason'],
];

const rounded = (db: number): number => Math.round(db * 1000) / 1000;

/**
 * The gains of a programme as a table: a row a clip in order of time, after a row of headings. Places are as the project shows
 * them, and in seconds from its start; gains in dB; `points` is the number of points of its gain over time.
 */
export function gainTable(project: Project): readonly (readonly (string | number | boolean)[])[] {
  const tracks = new Map(project.tracks.map((track) => [track.id, track]));
  const sources = new Map(project.sources.map(({ id, name }) => [id, name]));
  const [totalDb, besidesDb] = [totalDbOf(project), besidesDbOf(project)];
  const clips = [...project.clips].sort((a, b) => a.start - b.start);
  return [
    COLUMNS,
    ...clips.map((clip) => {
      const track = tracks.get(clip.trackId);
      const { sampleRate } = project;
      return [
        ...[clip.name, track?.name ?? '', sources.get(clip.sourceId) ?? ''],
        ...[placeText(project, clip.start, 3), placeText(project, clipEnd(clip), 3)],
        ...[clip.start / sampleRate, clipEnd(clip) / sampleRate],
        ...[clip.gain.db, clip.trimDb, besidesDb(clip), totalDb(clip), clip.gain.lastChangeDb].map(rounded),
        ...[clip.curve.length, track?.muted ?? false, reasonWords(clip.gain.reason)],
      ];
    }),
  ];
}
