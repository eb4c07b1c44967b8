import type { Clip, Project } from '@/core/programme/model';
import { count } from '@/core/text/words';
import type { WrittenList } from './writeEdl';

/** Channels that a CMX 3600 list can name. Source: CMX 3600 edit decision list. */
const EDL_CHANNELS = 4;
const EDL_EVENTS = 999;

const FEW = 4;

/** “Wind, Rain and 3 more”. */
function named(names: readonly string[]): string {
  const distinct = [...new Set(names)];
  const more = distinct.length - FEW;
  return more > 0 ? `${distinct.slice(0, FEW).join(', ')} and ${more} more` : distinct.join(', ');
}

/** What of a programme's sound an edit cannot be told by level, fade and place, a name each. */
interface Unsayable {
  readonly what: string;
  readonly names: readonly string[];
}

function unsayable({ tracks, clips, curve, limiter }: Project): Unsayable[] {
  const of = (test: (clip: Clip) => boolean): string[] => clips.filter(test).map(({ name }) => name);
  const all: Unsayable[] = [
    { what: 'gain of single channels', names: of(({ channelDb }) => channelDb.some((db) => db !== 0)) },
    { what: 'balance', names: of((clip) => clip.balance !== 0 || clip.balanceCurve.length > 0) },
    { what: 'a limiter', names: of((clip) => clip.limiter !== null) },
    {
      what: 'a fade of another shape than equal power',
      names: of(
        (clip) =>
          (clip.fadeIn > 0 && clip.fadeInShape !== 'equalPower') ||
          (clip.fadeOut > 0 && clip.fadeOutShape !== 'equalPower'),
      ),
    },
    {
      what: 'gain over time or a limiter on the track',
      names: tracks.filter((track) => track.curve.length > 0 || track.limiter).map(({ name }) => name),
    },
    {
      what: 'gain over time or a limiter on the whole',
      names: curve.length > 0 || limiter ? ['the programme'] : [],
    },
  ];
  return all.filter(({ names }) => names.length > 0);
}

const added = ({ groups, tracks }: Project): readonly string[] =>
  groups.length > 0 || tracks.some(({ gainDb }) => gainDb !== 0)
    ? ['Gains of tracks and groups are added to those of their clips.']
    : [];

/** What an OpenTimelineIO file of this programme cannot tell other programs, full sentences. */
export function otioCannotSay(project: Project): readonly string[] {
  const curves = project.clips.filter(({ curve }) => curve.length > 0).map(({ name }) => name);
  const only: Unsayable[] = [
    ...(curves.length > 0 ? [{ what: 'gain over time', names: curves }] : []),
    ...unsayable(project),
  ];
  return [
    ...only.map(
      ({ what, names }) =>
        `${named(names)}: ${what}. The format has no words for it; it is stored in the file where only Dengung reads it.`,
    ),
    ...added(project),
  ];
}

/** What an edit decision list of this programme does not tell, full sentences. @param list as it was written */
export function edlCannotSay(project: Project, list: WrittenList): readonly string[] {
  const muted = project.tracks.filter(
    ({ id, muted: off }) => off && project.clips.some(({ trackId }) => trackId === id),
  );
  const eased = project.clips.filter(({ curve }) => curve.some(({ shape }) => shape !== undefined));
  const { tooShort, moved, channels, events } = list;
  return [
    'Gains stand as notes after each event: many programs show notes and do not act on them.',
    ...added(project),
    ...unsayable(project).map(({ what, names }) => `Left out: ${what} (${named(names)}).`),
    ...(eased.length > 0
      ? [
          `Gain over time is told from point to point; the shape between them is not (${named(eased.map(({ name }) => name))}).`,
        ]
      : []),
    ...(project.markers.length > 0 ? ['Markers are left out: save them by themselves.'] : []),
    ...(muted.length > 0 ? [`Left out, because muted: ${named(muted.map(({ name }) => name))}.`] : []),
    ...(tooShort.length > 0
      ? [`Left out, because shorter than a frame of picture: ${named(tooShort)}.`]
      : []),
    ...(moved > 0
      ? [
          `${count(moved, 'clip')} ${moved === 1 ? 'begins or ends' : 'begin or end'} between two frames of picture and ${moved === 1 ? 'is' : 'are'} moved to the nearest.`,
        ]
      : []),
    ...(channels > EDL_CHANNELS
      ? [
          `It uses ${channels} channels, A to A${channels}: a list of the plain kind has four, and some programs read no more.`,
        ]
      : []),
    ...(events > EDL_EVENTS
      ? [
          `It has ${events} events: a list of the plain kind has ${EDL_EVENTS} at most, and some programs read no more.`,
        ]
      : []),
  ];
}
