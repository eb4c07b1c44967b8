import { totalDbOf } from '@/core/programme/clipGain';
import { clipEnd, type Clip, type Project, type Source, type Track } from '@/core/programme/model';
import { asItWas } from './foreign';
import { GAIN_POINTS } from './effects';
import type { Cue } from './cues';
import { markersTold } from './markers';
import { reasonTold, withRole } from './ours';
import { busTold, pointsTold, soundTold, withoutOurs } from './overTime';
import { childrenOf, isObject, mediaOf, rangeOf, seconds, type Json } from './otioJson';
import { rowsOf, type Row } from './rows';

/** Where a source lies, as far as that is known: two of one name are told apart by their folders. */
const urlOf = (folder: string, name: string): string =>
  [...folder.split('/').filter(Boolean), name].map(encodeURIComponent).join('/');

class Writer {
  private readonly sources: ReadonlyMap<string, Source>;
  private readonly totalDb: (clip: Clip) => number;

  constructor(
    private readonly project: Project,
    private readonly notes: readonly Cue[],
  ) {
    this.sources = new Map(project.sources.map((source) => [source.id, source]));
    this.totalDb = totalDbOf(project);
  }

  private readonly time = (frames: number): Json => ({
    OTIO_SCHEMA: 'RationalTime.1',
    value: frames,
    rate: this.project.sampleRate,
  });

  private range(start: number, length: number): Json {
    return {
      OTIO_SCHEMA: 'TimeRange.1',
      start_time: this.time(start),
      duration: this.time(length),
    };
  }

  private gap(length: number): Json {
    return { OTIO_SCHEMA: 'Gap.1', name: '', source_range: this.range(0, length) };
  }

  /** @param back frames before the cut, @param on frames after it */
  private transition(back: number, on: number): Json {
    return {
      OTIO_SCHEMA: 'Transition.1',
      name: '',
      transition_type: 'SMPTE_Dissolve',
      in_offset: this.time(back),
      out_offset: this.time(on),
    };
  }

  /** Where a clip's media counts from, programme frames: what its file said of it, or its timecode. */
  private mediaStart(clip: Clip, source: Source): number {
    const { sampleRate } = this.project;
    const media = clip.passthrough && mediaOf(clip.passthrough);
    const available = media ? rangeOf(media['available_range'], 'its media') : null;
    if (available) return available.start * sampleRate;
    const before = clip.passthrough && rangeOf(clip.passthrough['source_range'], 'the clip');
    const timecode = source.timeReference === null ? 0 : source.timeReference / source.sampleRate;
    // As it was read: a place before the media's own timecode did not count from midnight.
    return before && before.start > 0 && before.start >= timecode ? timecode * sampleRate : 0;
  }

  /** What the track of a clip gives it, dB. */
  private trackDb({ trackId }: Clip): number {
    return this.project.tracks.find(({ id }) => id === trackId)?.gainDb ?? 0;
  }

  /** @param from, to what of it stands on its row, where fades are written between clips */
  private clip(clip: Clip, from: number, to: number): Json {
    const source = this.sources.get(clip.sourceId);
    const { effects, ...passthrough } = clip.passthrough ?? {};
    const others = Array.isArray(effects) ? effects.filter(isObject) : [];
    const db = this.totalDb(clip);
    const points = clip.curve.length === 0 ? {} : { [GAIN_POINTS]: pointsTold(clip.curve, this.time) };
    const { reason } = clip.gain;
    const own = {
      ...withoutOurs(passthrough['metadata']),
      ...soundTold(clip, this.trackDb(clip), this.time),
    };
    const metadata = { gain_db: db, ...points, ...reasonTold(reason) };
    const gain =
      db === 0 && clip.curve.length === 0 && reason.kind !== 'levelled'
        ? []
        : [{ OTIO_SCHEMA: 'Effect.1', name: '', effect_name: 'Gain', metadata }];
    const name = source?.name ?? clip.name;
    const length = source ? (source.frames / source.sampleRate) * this.project.sampleRate : clip.length;
    const start = clip.sourceStart + from - clip.start + (source ? this.mediaStart(clip, source) : 0);
    return {
      OTIO_SCHEMA: 'Clip.2',
      media_references: {
        DEFAULT_MEDIA: {
          OTIO_SCHEMA: 'ExternalReference.1',
          name,
          target_url: urlOf(source?.folder ?? '', name),
          available_range: this.range(0, length),
        },
      },
      active_media_reference_key: 'DEFAULT_MEDIA',
      ...passthrough,
      ...((Object.keys(own).length > 0 || 'metadata' in passthrough) && { metadata: own }),
      name: clip.name,
      source_range: this.range(start, to - from),
      effects: [...others, ...gain],
    };
  }

  private row({ clips }: Row): Json[] {
    const children: Json[] = [];
    let at = 0;
    clips.forEach((clip, i) => {
      const before = clips[i - 1];
      const next = clips[i + 1];
      const sharedBefore = before ? Math.max(0, clipEnd(before) - clip.start) : 0;
      const sharedNext = next ? Math.max(0, clipEnd(clip) - next.start) : 0;
      // The cut lies in the middle of what two clips share.
      const from = clip.start + Math.floor(sharedBefore / 2);
      const to = clipEnd(clip) - (sharedNext - Math.floor(sharedNext / 2));
      if (from > at) children.push(this.gap(from - at));
      if (sharedBefore > 0) children.push(this.transition(from - clip.start, clipEnd(before!) - from));
      else if (clip.fadeIn > 0) children.push(this.transition(0, clip.fadeIn));
      children.push(this.clip(clip, from, to));
      if (sharedNext === 0 && clip.fadeOut > 0) children.push(this.transition(clip.fadeOut, 0));
      at = to;
    });
    return children;
  }

  private track(track: Track, { clips }: Row, index: number): Json {
    const passthrough: Json = track.passthrough ?? {};
    const metadata = {
      ...withoutOurs(withRole(index === 0 ? passthrough['metadata'] : null, track.role)),
      ...busTold(track, this.time),
    };
    return {
      OTIO_SCHEMA: 'Track.1',
      ...(index === 0 ? passthrough : {}),
      ...((Object.keys(metadata).length > 0 || 'metadata' in passthrough) && { metadata }),
      name: index === 0 ? track.name : `${track.name} (${index + 1})`,
      kind: 'Audio',
      ...((track.muted || track.passthrough?.['enabled'] !== undefined) && { enabled: !track.muted }),
      children: this.row({ clips }),
    };
  }

  /** Where the timeline begins: as it was said where that still holds. */
  private startTime(passthrough: Json): Json {
    const { time, sampleRate } = this.project;
    const said = passthrough['global_start_time'];
    const before = isObject(said) ? seconds(said, 'its start time') : 0;
    return Math.abs(before - time.startSeconds) < 0.5 / sampleRate
      ? {}
      : { global_start_time: this.time(Math.round(time.startSeconds * sampleRate)) };
  }

  timeline(): Json {
    const { passthrough, name, tracks, clips } = this.project;
    const metadata = { ...withoutOurs(passthrough?.['metadata']), ...busTold(this.project, this.time) };
    const stack = passthrough && isObject(passthrough['tracks']) ? passthrough['tracks'] : {};
    const sound = tracks.flatMap((track) => {
      const rows = rowsOf(clips.filter((clip) => clip.trackId === track.id));
      return (rows.length > 0 ? rows : [{ clips: [] }]).map((row, index) => this.track(track, row, index));
    });
    return {
      OTIO_SCHEMA: 'Timeline.1',
      ...passthrough,
      ...((Object.keys(metadata).length > 0 || 'metadata' in (passthrough ?? {})) && { metadata }),
      name,
      ...this.startTime(passthrough ?? {}),
      tracks: {
        OTIO_SCHEMA: 'Stack.1',
        name: 'tracks',
        ...stack,
        ...markersTold(this.project, this.notes, this.time),
        children: [...childrenOf(stack), ...sound],
      },
    };
  }
}

/**
 * The programme as an OpenTimelineIO file: every clip with the gain it sounds with (own, trim, groups and track together)
 * and its gain over time, which only this product reads again (the format has no words for one),
 * fades as transitions, and all that a cut's own file said besides, picture included. Muted tracks are written as not enabled. Times are in
 * samples of the programme's rate. Where clips of one track lie over each other otherwise than by a crossfade, the track
 * becomes several. Markers of the programme become markers of the timeline.
 * @param notes more markers, such as what was found
 */
export function writeOtio(project: Project, notes: readonly Cue[] = []): string {
  return asItWas(JSON.stringify(new Writer(project, notes).timeline(), null, 1));
}
