import { naturalOrder } from '@/core/text/order';
import type { IntegrityFault } from '@/core/audio/integrity';
import { checkedCut, CutError, MOST_CUT_CLIPS, USUAL_MOST_HOURS, type Cut, type CutClip } from './cut';
import { FRAME_RATES, timecodeSeconds, type FrameRate } from '@/core/text/timecode';

const HINT = 'Export it again as a CMX 3600 edit decision list (.edl).';

/** Number, reel, channels, transition with its length, and four timecodes. */
const EVENT =
  /^(\d+)\s+(\S+)\s+(\S+)\s+(C|D|K\S*|W\d+)(?:\s+(\d+))?\s+(\d\d:\d\d:\d\d[:;.,]\d\d)\s+(\d\d:\d\d:\d\d[:;.,]\d\d)\s+(\d\d:\d\d:\d\d[:;.,]\d\d)\s+(\d\d:\d\d:\d\d[:;.,]\d\d)\s*$/;
/** What stands before a clip's name in a note. */
const CLIP_NAME = /^\*?\s*(?:FROM|TO)\s+CLIP\s+NAME:/i;
/** Lists have lines of 80 letters; notes are longer, but none is as long as this. */
const MOST_LINE = 4096;

/** Audio tracks that an event's channels stand for; B is picture and the first track, AA the first two. */
function tracksOf(channels: string): string[] {
  const upper = channels.toUpperCase();
  if (upper === 'B') return ['A'];
  return [
    ...new Set(
      upper.split('/').flatMap((part) => (/^A\d*$/.test(part) ? [part] : part === 'AA' ? ['A'] : [])),
    ),
  ];
}

interface Event {
  readonly line: number;
  readonly tracks: readonly string[];
  readonly reel: string;
  readonly transition: string;
  /** Seconds. */
  readonly fade: number;
  readonly sourceIn: number;
  readonly recordIn: number;
  readonly recordOut: number;
  /** As the notes after the event give them, in order. */
  readonly names: string[];
  gainDb: number;
  /** Gain over time: programme seconds and dB. */
  readonly points: { readonly at: number; readonly db: number }[];
}

/** What a note says of the gain of the event before it: level, or where it stands at a place. */
const GAIN = /^\*\s*GAIN(?:\s+AT\s+(\d\d:\d\d:\d\d[:;.,]\d\d))?:\s*([+-]?\d+(?:\.\d+)?)\s*DB$/i;

function damaged(line: number, what: string): CutError {
  return new CutError('damaged', `Line ${line} of the list cannot be read: ${what}.`, HINT);
}

const tooMany = (what: string): CutError =>
  new CutError('tooLarge', `The list has over ${MOST_CUT_CLIPS} ${what}.`, 'Export a part of it.');

/**
 * Reads the sound of a CMX 3600 edit decision list: cuts, and dissolves as fades. Record timecode is counted from the
 * first event; reels, or the clip names in the notes, are the names of media; notes of gain are those that `writeEdl` makes.
 * @param frameRate the list does not say it; `FCM: DROP FRAME` makes 29.97 of it drop
 * @param mostHours the longest that the programme may be
 * @throws CutError when it is none, damaged (with the line), too long or without sound
 */
export function readEdl(text: string, frameRate: FrameRate, mostHours = USUAL_MOST_HOURS): Cut {
  const faults = new Map<string, IntegrityFault>();
  const remarks = new Set<string>();
  const fault = (kind: IntegrityFault['kind'], sentence: string): void =>
    void faults.set(sentence, { kind, sentence });
  const events: Event[] = [];
  let name = 'Edit decision list';
  let rate = frameRate;
  let seen = false;
  for (const [index, raw] of text.split(/\r\n|\r|\n/).entries()) {
    const at = index + 1;
    // Patterns take long over lines that are endless.
    if (raw.length > MOST_LINE) throw damaged(at, `it is longer than ${MOST_LINE} letters`);
    const line = raw.trim();
    if (/^TITLE:/i.test(line)) {
      name = line.slice(6).trim() || name;
      seen = true;
    } else if (/^FCM:/i.test(line)) {
      seen = true;
      const drop = !/NON/i.test(line);
      const counts = FRAME_RATES.filter((other) => other.drop === drop);
      const same = counts.find(
        (other) =>
          other.nominal === frameRate.nominal && Math.abs(other.perSecond - frameRate.perSecond) < 1e-9,
      );
      // Drop frame counts there are two of; the usual one is the slower.
      rate = same ?? (drop ? counts[0]! : rate);
      if (rate !== same && drop)
        remarks.add(
          `The list uses drop-frame timecode, which ${frameRate.name} fps does not have; it was read at ${rate.name}.`,
        );
    } else if (/^M2\s/i.test(line)) fault('altered', `Line ${at}: a change of speed is not taken over.`);
    else if (/^\d+\s/.test(line)) {
      const match = EVENT.exec(line);
      if (!match)
        throw damaged(at, 'it is no event of number, reel, channels, transition and four timecodes');
      seen = true;
      const time = (part: string): number => {
        const found = timecodeSeconds(part, rate);
        if (found === null) throw damaged(at, `“${part}” is no timecode at ${rate.name} frames`);
        return found;
      };
      const [, , reel, channels, transition, frames, sourceIn, sourceOut, recordIn, recordOut] = match;
      const event: Event = {
        line: at,
        tracks: tracksOf(channels!),
        reel: reel!,
        transition: transition!.toUpperCase(),
        fade: Number(frames ?? 0) / rate.perSecond,
        sourceIn: time(sourceIn!),
        recordIn: time(recordIn!),
        recordOut: time(recordOut!),
        names: [],
        gainDb: 0,
        points: [],
      };
      if (event.recordOut < event.recordIn || time(sourceOut!) < event.sourceIn)
        throw damaged(at, 'it ends before it begins');
      const [used, laid] = [time(sourceOut!) - event.sourceIn, event.recordOut - event.recordIn];
      if (Math.abs(used - laid) * rate.perSecond > 0.5)
        fault(
          'altered',
          `Line ${at}: ${used.toFixed(2)} s of the source are placed over ${laid.toFixed(2)} s; the length in the programme was used.`,
        );
      events.push(event);
      if (events.length > MOST_CUT_CLIPS) throw tooMany('events');
    } else if (GAIN.test(line)) {
      const [, place, db] = GAIN.exec(line)!;
      const last = events.at(-1);
      const told = place === undefined ? null : timecodeSeconds(place, rate);
      if (last && place === undefined) last.gainDb = Number(db);
      else if (last && told !== null) last.points.push({ at: told, db: Number(db) });
      else fault('altered', `Line ${at}: a gain is not taken over.`);
    } else {
      const before = CLIP_NAME.exec(line)?.[0].length;
      const given = before === undefined ? '' : line.slice(before).trim();
      if (given) events.at(-1)?.names.push(given);
    }
  }
  if (!seen) throw new CutError('notACut', 'This is not an edit decision list.', HINT);
  return checkedCut(
    {
      ...{ name, tracks: layOut(events, fault, remarks) },
      ...{ warnings: [...faults.keys(), ...remarks], faults: [...faults.values()] },
      ...{ perSecond: rate.perSecond, beginsAt: originOf(events), frameRateId: rate.id, passthrough: null },
    },
    mostHours,
  );
}

/** What record timecode is counted from, seconds. */
const originOf = (events: readonly Event[]): number =>
  events.reduce((first, { recordIn }) => Math.min(first, recordIn), Infinity);

/** Events on their tracks. A dissolve's first line of two is where what goes out stands still; it has no length. */
function layOut(
  events: readonly Event[],
  fault: (kind: IntegrityFault['kind'], sentence: string) => void,
  remarks: Set<string>,
) {
  const origin = originOf(events);
  const tracks = new Map<string, CutClip[]>();
  let count = 0;
  for (const event of events) {
    if (event.tracks.length === 0) {
      remarks.add('Picture is left out.');
      continue;
    }
    const length = event.recordOut - event.recordIn;
    if (/^[KW]/.test(event.transition))
      fault(
        'altered',
        `Line ${event.line}: a wipe or key is taken for a ${event.fade > 0 ? 'dissolve' : 'cut'}.`,
      );
    for (const track of event.tracks) {
      const clips = tracks.get(track) ?? [];
      tracks.set(track, clips);
      if (length <= 0) continue;
      const fade = event.transition === 'C' ? 0 : Math.min(event.fade, length);
      const last = clips.at(-1);
      const start = event.recordIn - origin;
      // What goes out plays on under the dissolve.
      if (fade > 0 && last && Math.abs(last.start + last.length - start) < 1e-6)
        clips[clips.length - 1] = { ...last, length: last.length + fade, fadeOut: fade };
      const silent = /^(BL|BLACK)$/i.test(event.reel);
      if (silent) continue;
      const name = event.names.at(-1) ?? event.reel;
      if (++count > MOST_CUT_CLIPS) throw tooMany('clips');
      clips.push({
        name,
        media: { name, url: null },
        start,
        length,
        sourceStart: event.sourceIn,
        sourceIsTimecode: true,
        gainDb: event.gainDb,
        fadeIn: fade,
        fadeOut: 0,
        curve: event.points.map(({ at, db }) => ({ seconds: event.sourceIn + at - event.recordIn, db })),
        passthrough: null,
      });
    }
  }
  return [...tracks]
    .sort(([a], [b]) => naturalOrder(a, b))
    .map(([track, clips]) => ({ name: track === 'A' ? 'A1' : track, clips, passthrough: null }));
}
