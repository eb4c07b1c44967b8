import { programmeLayout } from '@/core/audio/layout';
import type { WriteFormat } from '@/core/audio/pcm';
import { totalDbOf } from '@/core/programme/clipGain';
import { plainDelivery, WAV_24, type Delivery } from '@/core/programme/delivery';
import { sourceLength } from '@/core/programme/edits/clips';
import {
  AS_RECORDED,
  PLAIN_CLIP,
  clipEnd,
  programmeFrames,
  type Clip,
  type Project,
  type Source,
  type Track,
} from '@/core/programme/model';
import { audibleClips } from '@/core/signal/audible';
import { safeName } from '@/core/text/safeName';
import { count } from '@/core/text/words';
import type { DeliveryFile } from './deliveryFiles';

/** How the gains go back as media. */
export interface EditMediaWish {
  /** A file for every clip, or one for the whole of each track. */
  readonly per: 'clip' | 'track';
  /** More of the source before and behind each clip, seconds. */
  readonly handleSeconds: number;
  /** Level gains are in the files, or told by the cut. */
  readonly gains: 'rendered' | 'left';
  readonly depth: WriteFormat;
}

/** Files for an edit system, and the cut that points to them. */
export interface EditMedia {
  readonly files: readonly DeliveryFile[];
  /** What they are rendered from. */
  readonly renderFrom: Project;
  /** The programme made of the files: to be written as a cut. */
  readonly cut: Project;
  /** What of the programme is neither in the files nor in the cut, or otherwise than might be thought; full sentences. */
  readonly said: readonly string[];
}

const DAY_SECONDS = 86_400;

/** Nothing on the whole of it. */
const WITHOUT_BUS = { curve: [], limiter: null } as const;

const bare = (track: Track): Track => ({ ...track, ...WITHOUT_BUS });

const deliveryOf = (depth: WriteFormat, clipIds: readonly string[]): Delivery => ({
  ...plainDelivery('edit', null),
  what: { kind: 'clips', clipIds },
  format: { ...WAV_24, kind: 'bwf', depth },
});

/** A file as a source of the cut. */
function sourceOf(project: Project, { key, name, from, to }: DeliveryFile): Source {
  const { sampleRate } = project;
  const path = name.split('/');
  const begins = (project.time.startSeconds * sampleRate + from) % (DAY_SECONDS * sampleRate);
  return {
    ...{ id: key, name: path.at(-1)!, folder: path.slice(0, -1).join('/'), audioKey: key, byteLength: 0 },
    ...{ container: 'WAV', codec: 'PCM', sampleRate, layout: programmeLayout(project.layoutId) },
    ...{ frames: to - from, partial: false, warnings: [], speech: null, trimDb: 0 },
    timeReference: Math.round(begins),
  };
}

/** What no cut can tell by level, fade and place: it is in the files. */
const needsRendering = (clip: Clip): boolean =>
  clip.curve.length > 0 ||
  clip.balance !== 0 ||
  clip.balanceCurve.length > 0 ||
  clip.channelDb.length > 0 ||
  clip.limiter !== null;

const named = (items: readonly { readonly name: string }[]): string =>
  items.map(({ name }) => name).join(', ');

function notIn(project: Project, { per }: EditMediaWish): string[] {
  const buses = project.tracks.filter(({ curve, limiter }) => curve.length > 0 || limiter);
  const muted = project.tracks.filter(
    ({ id, muted: off }) => off && project.clips.some(({ trackId }) => trackId === id),
  );
  return [
    ...(per === 'clip' && buses.length > 0
      ? [`Not in the files: gain over time and limiters of tracks (${named(buses)}).`]
      : []),
    ...(project.curve.length > 0 || project.limiter
      ? ['Not in the files: gain over time and limiter of the whole programme.']
      : []),
    ...(muted.length > 0 ? [`Left out, because muted: ${named(muted)}.`] : []),
  ];
}

/** Names of folders for tracks, each another. */
function foldersOf(tracks: readonly Track[]): ReadonlyMap<string, string> {
  const taken = new Set<string>();
  return new Map(
    tracks.map(({ id, name }) => {
      const safe = safeName(name);
      let folder = safe;
      for (let n = 2; taken.has(folder.toLowerCase()); n++) folder = `${safe} ${n}`;
      taken.add(folder.toLowerCase());
      return [id, folder];
    }),
  );
}

function perTrack(project: Project, wish: EditMediaWish): EditMedia {
  const heard = audibleClips(project);
  const folders = foldersOf(project.tracks);
  const end = programmeFrames(project);
  const used = project.tracks.filter(({ id }) => heard.some(({ trackId }) => trackId === id));
  const files = used.map(({ id, name }): DeliveryFile => {
    const clipIds = heard.flatMap((clip) => (clip.trackId === id ? [clip.id] : []));
    return {
      ...{ key: `edit/${id}`, delivery: deliveryOf(wish.depth, clipIds), name: `${folders.get(id)}.wav` },
      ...{ part: name, clipIds: new Set(clipIds), from: 0, to: end },
    };
  });
  const clips = files.map((file, i): Clip => ({
    ...{ ...PLAIN_CLIP, id: file.key, trackId: used[i]!.id, sourceId: file.key, name: used[i]!.name },
    ...{ start: 0, length: end, sourceStart: 0 },
  }));
  const tracks = used.map((track) => ({ ...bare(track), gainDb: 0, passthrough: null }));
  return {
    files,
    renderFrom: { ...project, ...WITHOUT_BUS },
    cut: {
      ...{ ...project, ...WITHOUT_BUS, sources: files.map((file) => sourceOf(project, file)) },
      ...{ tracks, clips, groups: [], passthrough: null },
    },
    said: [
      'Everything on clips and tracks is in the files; the cut has one clip a track, at 0 dB.',
      ...notIn(project, wish),
    ],
  };
}

function perClip(project: Project, wish: EditMediaWish): EditMedia {
  const { sampleRate } = project;
  const sources = new Map(project.sources.map((source) => [source.id, source]));
  const folders = foldersOf(project.tracks);
  const totalDb = totalDbOf(project);
  const trackDbs = new Map(project.tracks.map(({ id, gainDb }) => [id, gainDb]));
  const left = (clip: Clip): boolean => wish.gains === 'left' && clip.limiter === null;
  const handle = Math.round(wish.handleSeconds * sampleRate);
  let short = 0;
  const heard = [...audibleClips(project)].sort((a, b) => a.start - b.start);
  const digits = Math.max(3, String(heard.length).length);
  const made = heard.map((clip, i) => {
    const source = sources.get(clip.sourceId)!;
    const room = sourceLength(source, sampleRate) - clip.sourceStart - clip.length;
    // Time stamps count from midnight on: there is nothing before the programme's first frame.
    const before = Math.max(0, Math.min(handle, clip.sourceStart, clip.start));
    const behind = Math.max(0, Math.min(handle, room));
    if (before < handle || behind < handle) short++;
    const name = `${String(i + 1).padStart(digits, '0')} ${safeName(clip.name.replace(/\.[^.]{1,5}$/, ''))}.wav`;
    const file: DeliveryFile = {
      ...{ key: `edit/${clip.id}`, delivery: deliveryOf(wish.depth, [clip.id]), part: clip.name },
      ...{ name: `${folders.get(clip.trackId)}/${name}`, clipIds: new Set([clip.id]) },
      ...{ from: clip.start - before, to: clipEnd(clip) + behind },
    };
    const whole: Clip = {
      ...{ ...clip, start: file.from, length: file.to - file.from, sourceStart: clip.sourceStart - before },
      // Fades belong to the cut.
      ...{ fadeIn: 0, fadeOut: 0 },
    };
    const rest = totalDb(clip);
    // What its track gives it comes behind its limiter: the ceiling moves along.
    const trackDb = trackDbs.get(clip.trackId) ?? 0;
    const limiter = clip.limiter && { ...clip.limiter, ceilingDbtp: clip.limiter.ceilingDbtp + trackDb };
    const gain = left(clip) ? AS_RECORDED : { ...clip.gain, db: rest };
    const rendered: Clip = { ...whole, gain, limiter, trimDb: 0, groupId: null };
    const cut: Clip = {
      ...{ ...PLAIN_CLIP, id: clip.id, trackId: clip.trackId, sourceId: file.key, name: clip.name },
      ...{ start: clip.start, length: clip.length, sourceStart: before },
      ...{ fadeIn: clip.fadeIn, fadeOut: clip.fadeOut },
      ...{ fadeInShape: clip.fadeInShape, fadeOutShape: clip.fadeOutShape },
      gain: left(clip) ? { ...clip.gain, db: rest } : AS_RECORDED,
    };
    return { file, rendered, cut };
  });
  const tracks = project.tracks.map((track) => ({ ...bare(track), gainDb: 0 }));
  const files = made.map(({ file }) => file);
  const within = heard.filter(needsRendering).length;
  const plain = { ...project, ...WITHOUT_BUS, tracks, groups: [] };
  return {
    files,
    renderFrom: { ...plain, clips: made.map(({ rendered }) => rendered) },
    cut: {
      ...{ ...plain, passthrough: null, sources: files.map((file) => sourceOf(project, file)) },
      ...{
        tracks: tracks.map((track) => ({ ...track, passthrough: null })),
        clips: made.map(({ cut }) => cut),
      },
    },
    said: [
      ...(within > 0
        ? [
            `In the files of ${count(within, 'clip')}, because no cut can tell it: gain over time, balance, gain of channels, a limiter (ahead of the fades).`,
          ]
        : []),
      ...(short > 0
        ? [
            `${count(short, 'clip')} ${short === 1 ? 'has' : 'have'} shorter handles: the source ends, or the programme begins.`,
          ]
        : []),
      ...notIn(project, wish),
    ],
  };
}

/**
 * The programme as media for an edit system: time-stamped files in folders by track, and the programme made of them. Played as the
 * cut says, the files sound like the clips do, without what is on tracks (`per: 'clip'`) and on the whole programme.
 */
export const editMedia = (project: Project, wish: EditMediaWish): EditMedia =>
  wish.per === 'clip' ? perClip(project, wish) : perTrack(project, wish);
