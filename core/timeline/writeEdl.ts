import { totalDbOf } from '@/core/programme/clipGain';
import { curveDbAt } from '@/core/programme/curve';
import { clipEnd, type Clip, type Project, type Source } from '@/core/programme/model';
import { timecodeOf, type FrameRate } from '@/core/text/timecode';
import { rowsOf, type Row } from './rows';

/** A list as it was written, and what of the programme is not in it. */
export interface WrittenList {
  readonly text: string;
  /** Names of clips that are shorter than half a frame of picture. */
  readonly tooShort: readonly string[];
  /** Clips of which an edge had to move to the nearest frame of picture. */
  readonly moved: number;
  /** Channels used, A, A2 and so on. */
  readonly channels: number;
  readonly events: number;
}

/** Black: what a fade comes from or goes to. */
const BLACK = 'BL';
/** A reel has so many letters. Source: CMX 3600 edit decision list, event statement. */
const REEL_LETTERS = 8;

/** Reels for sources: letters and digits of their names, each another. */
function reelsOf(sources: readonly Source[]): ReadonlyMap<string, string> {
  const taken = new Set([BLACK, 'BLACK', 'AX']);
  return new Map(
    sources.map(({ id, name }) => {
      const stem =
        name
          .replace(/\.[^.]+$/, '')
          .replace(/[^A-Za-z0-9]+/g, '')
          .toUpperCase() || 'REEL';
      let reel = stem.slice(0, REEL_LETTERS);
      for (let n = 2; taken.has(reel); n++) reel = `${stem.slice(0, REEL_LETTERS - String(n).length)}${n}`;
      taken.add(reel);
      return [id, reel];
    }),
  );
}

/** In one line, and without what is not plain text. */
const noteText = (text: string): string => text.replace(/[\u0000-\u001f\u007f]+/g, ' ').trim();

/** One event: what stands in its lines, all times in frames of picture. */
interface Event {
  readonly at: number;
  readonly channel: number;
  readonly lines: (number: string) => string[];
}

class Writer {
  readonly tooShort: string[] = [];
  moved = 0;
  private readonly reels: ReadonlyMap<string, string>;
  private readonly sources: ReadonlyMap<string, Source>;
  private readonly totalDb: (clip: Clip) => number;

  constructor(
    private readonly project: Project,
    private readonly rate: FrameRate,
  ) {
    this.reels = reelsOf(project.sources);
    this.sources = new Map(project.sources.map((source) => [source.id, source]));
    this.totalDb = totalDbOf(project);
  }

  private frames(programmeFrames: number): number {
    return (programmeFrames / this.project.sampleRate) * this.rate.perSecond;
  }

  /** A clip with its edges and fades on frames of picture. */
  private rounded(clip: Clip): Clip {
    const at = (frame: number): number => Math.round(this.frames(frame) + 1e-9);
    const [start, end] = [at(clip.start), at(clipEnd(clip))];
    const edges = [clip.start, clipEnd(clip)].map((frame) => this.frames(frame));
    if (edges.some((edge) => Math.abs(edge - Math.round(edge)) > 1e-3)) this.moved++;
    const length = end - start;
    const fadeIn = clip.fadeIn === 0 ? 0 : at(clip.start + clip.fadeIn) - start;
    const fadeOut = clip.fadeOut === 0 ? 0 : end - at(clipEnd(clip) - clip.fadeOut);
    // An event has a frame at least before it fades.
    return { ...clip, start, length, fadeIn, fadeOut: Math.min(fadeOut, length - Math.max(1, fadeIn)) };
  }

  /** @param frame of picture, of the programme */
  private record(frame: number): string {
    return timecodeOf(frame + Math.round(this.project.time.startSeconds * this.rate.perSecond), this.rate);
  }

  /** @param frame of picture, of a reel */
  private readonly source = (frame: number): string => timecodeOf(Math.max(0, frame), this.rate);

  /** Where a clip begins on its reel, frames of picture: its file's own timecode counts. */
  private reelStart({ sourceId, sourceStart }: Clip): number {
    const source = this.sources.get(sourceId);
    const begins = source?.timeReference == null ? 0 : source.timeReference / source.sampleRate;
    return Math.round((begins + sourceStart / this.project.sampleRate) * this.rate.perSecond);
  }

  /** The gains of a clip as notes: level, and where it changes over time. */
  private gainNotes(clip: Clip, laid: Clip): string[] {
    const db = this.totalDb(clip);
    const told = (gain: number): string => `${gain < 0 ? '' : '+'}${gain.toFixed(2)} DB`;
    const notes = db === 0 ? [] : [`* GAIN: ${told(db)}`];
    if (clip.curve.length === 0) return notes;
    const end = clip.sourceStart + clip.length;
    const inside = clip.curve.map(({ at }) => at).filter((at) => at > clip.sourceStart && at < end);
    const places = [clip.sourceStart, ...inside, end];
    return [
      ...notes,
      ...places.map((at) => {
        const frame = laid.start + Math.round(this.frames(at - clip.sourceStart));
        return `* GAIN AT ${this.record(Math.min(frame, clipEnd(laid)))}: ${told(curveDbAt(clip.curve, at))}`;
      }),
    ];
  }

  private row({ clips }: Row, channel: number, byId: ReadonlyMap<string, Clip>): Event[] {
    const word = channel === 1 ? 'A' : `A${channel}`;
    const line = (
      number: string,
      reel: string,
      transition: string,
      reelFrom: number,
      from: number,
      to: number,
    ): string =>
      [
        ...[number, reel.padEnd(REEL_LETTERS), word.padEnd(5), transition.padEnd(8)],
        ...[this.source(reelFrom), this.source(reelFrom + to - from), this.record(from), this.record(to)],
      ].join(' ');
    const dissolve = (frames: number): string => `D    ${String(frames).padStart(3, '0')}`;
    const nameOf = ({ sourceId, name }: Clip): string => noteText(this.sources.get(sourceId)?.name ?? name);
    return clips.flatMap((laid, i): Event[] => {
      const clip = byId.get(laid.id)!;
      const reel = this.reels.get(clip.sourceId) ?? 'AX';
      const [before, next] = [clips[i - 1], clips[i + 1]];
      const crossed = before && clipEnd(before) > laid.start ? before : null;
      const crosses = next !== undefined && next.start < clipEnd(laid);
      const from = this.reelStart(clip);
      // What goes out in a fade belongs to the event after it.
      const out = laid.fadeOut;
      const end = clipEnd(laid) - out;
      const event: Event = {
        ...{ at: laid.start, channel },
        lines: (number) => {
          const notes = this.gainNotes(clip, laid);
          if (laid.fadeIn === 0)
            return [
              line(number, reel, 'C', from, laid.start, end),
              `* FROM CLIP NAME: ${nameOf(clip)}`,
              ...notes,
            ];
          const leaves = crossed ? (this.reels.get(crossed.sourceId) ?? 'AX') : BLACK;
          const stands = crossed ? this.reelStart(byId.get(crossed.id)!) + laid.start - crossed.start : 0;
          return [
            line(number, leaves, 'C', stands, laid.start, laid.start),
            line(number, reel, dissolve(laid.fadeIn), from, laid.start, end),
            ...(crossed ? [`* FROM CLIP NAME: ${nameOf(crossed)}`] : []),
            `* TO CLIP NAME: ${nameOf(clip)}`,
            ...notes,
          ];
        },
      };
      if (out === 0 || crosses) return [event];
      const fade: Event = {
        ...{ at: end, channel },
        lines: (number) => [
          line(number, reel, 'C', from + end - laid.start, end, end),
          line(number, BLACK, dissolve(out), 0, end, end + out),
          `* FROM CLIP NAME: ${nameOf(clip)}`,
        ],
      };
      return [event, fade];
    });
  }

  list(): WrittenList {
    const { project, rate } = this;
    let channels = 0;
    const byId = new Map(project.clips.map((clip) => [clip.id, clip]));
    const events = project.tracks.flatMap(({ id, muted }): Event[] => {
      if (muted) return [];
      const laid = project.clips
        .filter(({ trackId }) => trackId === id)
        .map((clip) => this.rounded(clip))
        .filter(({ name, length }) => {
          if (length <= 0) this.tooShort.push(name);
          return length > 0;
        });
      return rowsOf(laid).flatMap((row) => this.row(row, ++channels, byId));
    });
    events.sort((a, b) => a.at - b.at || a.channel - b.channel);
    const digits = Math.max(3, String(events.length).length);
    const lines = events.flatMap((event, i) => event.lines(String(i + 1).padStart(digits, '0')));
    const head = [
      `TITLE: ${noteText(project.name).slice(0, 70)}`,
      `FCM: ${rate.drop ? 'DROP FRAME' : 'NON-DROP FRAME'}`,
    ];
    return {
      text: `${[...head, '', ...lines].join('\r\n')}\r\n`,
      ...{ tooShort: this.tooShort, moved: this.moved, channels, events: events.length },
    };
  }
}

/**
 * The programme as a CMX 3600 edit decision list: an event a clip, fades as dissolves from and to black, crossfades as
 * dissolves, the gain each clip sounds with as notes after its event, gain over time as notes with record timecode. Muted tracks are
 * left out. Every row of clips has a channel: A, A2, A3 and so on.
 */
export const writeEdl = (project: Project, frameRate: FrameRate): WrittenList =>
  new Writer(project, frameRate).list();
