import type { IntegrityFault } from '@/core/audio/integrity';
import type { Passthrough } from '@/core/programme/model';
import { FRAME_RATES } from '@/core/text/timecode';
import { count } from '@/core/text/words';
import {
  checkedCut,
  CutError,
  MOST_CUT_CLIPS,
  USUAL_MOST_HOURS,
  type Cut,
  type CutClip,
  type CutTrack,
} from './cut';
import { effectName, effectsOf } from './effects';
import { bearable } from './foreign';
import { roleIn } from './ours';
import { markersIn } from './markers';
import { busIn, soundIn } from './overTime';
import {
  childrenOf,
  damaged,
  fileName,
  HINT,
  isObject,
  kindOf,
  mediaOf,
  nameOf,
  rangeOf,
  seconds,
  LEFT_OUT,
  type Json,
} from './otioJson';

/** Clips named in one sentence at most. */
const MOST_NAMED = 5;

/** Nested deeper than this is no timeline but an attack. */
const DEEPEST = 32;

/** A clip within its track: fades are not known before its neighbours are. */
interface Piece {
  readonly clips: readonly CutClip[];
  readonly length: number;
}

class Reader {
  readonly warnings = new Set<string>();
  /** What is not known, of the track that is being read. */
  private leftOut: Json[] = [];
  private counted = 0;
  /** Frames a second in which clips are counted, the coarsest. */
  perSecond = Infinity;

  readonly faults: IntegrityFault[] = [];
  /** Names of clips that are not enabled. */
  private readonly disabled: string[] = [];

  private warn(text: string): void {
    this.warnings.add(text);
  }

  /** Something for which the programme does not sound as the cut. */
  private fault(kind: IntegrityFault['kind'], sentence: string): void {
    if (this.warnings.has(sentence)) return;
    this.warnings.add(sentence);
    this.faults.push({ kind, sentence });
  }

  /** Says at the end what of all clips is said once. */
  end(): void {
    const { length } = this.disabled;
    if (length === 0) return;
    const named = `${this.disabled.slice(0, MOST_NAMED).join(', ')}${length > MOST_NAMED ? ', …' : ''}`;
    this.fault(
      'leftOut',
      `${count(length, 'clip')} ${length === 1 ? 'is' : 'are'} disabled in the cut and left out: ${named}.`,
    );
  }

  /** What is not enabled takes its time and is not heard; it passes through to be written back. */
  private withoutDisabled(item: Json, whole: Piece): Piece {
    if (item['enabled'] !== false) return whole;
    for (const { name } of whole.clips) this.disabled.push(`“${name}”`);
    if (whole.clips.length > 0) this.leftOut.push(item);
    return { clips: [], length: whole.length };
  }

  private gainOf(item: Json): number {
    const { gainDb, others } = effectsOf(item);
    for (const effect of others.filter(({ enabled }) => enabled !== false))
      this.fault(
        'altered',
        `The effect “${effectName(effect) || kindOf(effect)}” on “${nameOf(item)}” is not taken over.`,
      );
    return gainDb;
  }

  private clip(item: Json): Piece {
    const what = `“${nameOf(item) || 'a clip'}”`;
    const media = mediaOf(item);
    const available = media ? rangeOf(media['available_range'], `the media of ${what}`) : null;
    const range = rangeOf(item['source_range'], what) ?? available;
    if (!range) throw damaged(`${what} has neither a source range nor media of known length`);
    const counted = isObject(item['source_range']) ? item['source_range']['duration'] : null;
    if (isObject(counted)) this.perSecond = Math.min(this.perSecond, Number(counted['rate']));
    if (++this.counted > MOST_CUT_CLIPS)
      throw new CutError(
        'tooLarge',
        `The timeline has over ${MOST_CUT_CLIPS} clips.`,
        'Export a part of it.',
      );
    const url = media && typeof media['target_url'] === 'string' ? media['target_url'] : null;
    const name = (url && fileName(url)) || (media && nameOf(media)) || nameOf(item);
    if (!name) throw damaged('a clip names no media');
    const { curve, reason, others } = effectsOf(item);
    const clip: CutClip = {
      name: nameOf(item) || name,
      media: { name, url },
      start: 0,
      length: range.length,
      sourceStart: range.start - (available?.start ?? 0),
      sourceIsTimecode: available === null && range.start > 0,
      gainDb: this.gainOf(item),
      reason,
      fadeIn: 0,
      fadeOut: 0,
      curve,
      sound: soundIn(item['metadata']),
      passthrough: bearable({ ...item, effects: others }),
    };
    return { clips: range.length > 0 ? [clip] : [], length: range.length };
  }

  /** Several tracks at once, brought to a range of their own time if one is given. */
  private stack(item: Json, depth: number): Piece {
    const parts = childrenOf(item).map((child) => this.item(child, depth + 1));
    const whole: Piece = {
      clips: parts.flatMap((part) => part.clips),
      length: parts.reduce((most, part) => Math.max(most, part.length), 0),
    };
    return this.within(item, whole);
  }

  /** What of a nested item its source range leaves, with its gain. */
  private within(item: Json, whole: Piece): Piece {
    const range = rangeOf(item['source_range'], `“${nameOf(item)}”`);
    const gain = this.gainOf(item);
    const [from, to] = range ? [range.start, range.start + range.length] : [0, whole.length];
    const clips = whole.clips.flatMap((clip): CutClip[] => {
      const first = Math.max(clip.start, from);
      const end = Math.min(clip.start + clip.length, to);
      if (first >= end) return [];
      return [
        {
          ...clip,
          start: first - from,
          length: end - first,
          sourceStart: clip.sourceStart + first - clip.start,
          gainDb: clip.gainDb + gain,
          // Moved as a whole, it is no more what it was levelled to.
          reason: gain === 0 ? (clip.reason ?? null) : null,
          fadeIn: first > clip.start ? 0 : clip.fadeIn,
          fadeOut: end < clip.start + clip.length ? 0 : clip.fadeOut,
        },
      ];
    });
    return { clips, length: to - from };
  }

  /** One thing after the other; a transition makes its neighbours overlap, each fading under the other. */
  private track(item: Json, depth: number): Piece {
    const clips: CutClip[] = [];
    let at = 0;
    /** A transition before the item that comes: how far it reaches back, and on. */
    let before: { readonly back: number; readonly on: number } | null = null;
    let last: CutClip[] = [];
    for (const child of childrenOf(item)) {
      if (kindOf(child) === 'Transition') {
        before = {
          back: seconds(child['in_offset'], 'the start of a transition'),
          on: seconds(child['out_offset'], 'the end of a transition'),
        };
        const { back, on } = before;
        // What goes out plays on under what comes.
        clips.splice(
          clips.length - last.length,
          last.length,
          ...last.map((clip) => ({ ...clip, length: clip.length + on, fadeOut: back + on })),
        );
        last = [];
        continue;
      }
      const piece = this.item(child, depth + 1);
      last = piece.clips.map((clip) => ({ ...clip, start: clip.start + at }));
      if (before) {
        const { back, on }: { back: number; on: number } = before;
        last = last.map((clip) => ({
          ...clip,
          start: clip.start - back,
          length: clip.length + back,
          sourceStart: clip.sourceStart - back,
          fadeIn: back + on,
        }));
        before = null;
      }
      clips.push(...last);
      at += piece.length;
    }
    return this.within(item, { clips, length: at });
  }

  private item(item: Json, depth: number): Piece {
    if (depth > DEEPEST) throw damaged('it is nested too deeply');
    switch (kindOf(item)) {
      case 'Clip':
        return this.withoutDisabled(item, this.clip(item));
      case 'Gap':
        return { clips: [], length: rangeOf(item['source_range'], 'a gap')?.length ?? 0 };
      case 'Stack':
        return this.withoutDisabled(item, this.stack(item, depth));
      case 'Track':
        if (item['kind'] === 'Video') {
          this.warn('Picture is left out.');
          return { clips: [], length: 0 };
        }
        // A track of the timeline itself becomes a muted one.
        return depth === 1 ? this.track(item, depth) : this.withoutDisabled(item, this.track(item, depth));
      default:
        this.fault('leftOut', `“${kindOf(item) || 'Something without a kind'}” is not known and left out.`);
        this.leftOut.push(item);
        return { clips: [], length: 0 };
    }
  }

  tracks(stack: Json): CutTrack[] {
    const found: CutTrack[] = [];
    for (const [index, child] of childrenOf(stack).entries()) {
      this.leftOut = [];
      const { clips } = this.item(child, 1);
      if (clips.length > 0 || child['kind'] === 'Audio')
        found.push({
          name: nameOf(child) || `Track ${index + 1}`,
          clips,
          role: roleIn(child['metadata']),
          bus: busIn(child['metadata']),
          passthrough: passthroughOfTrack(child, this.leftOut),
        });
    }
    return found;
  }
}

/** What a track says besides its clips, and in its metadata what of it is not known. */
function passthroughOfTrack(track: Json, leftOut: readonly Json[]): Passthrough {
  const passthrough: Passthrough = { ...track, children: [] };
  if (leftOut.length === 0) return bearable(passthrough);
  const metadata = isObject(passthrough['metadata']) ? passthrough['metadata'] : {};
  return bearable({ ...passthrough, metadata: { ...metadata, [LEFT_OUT]: leftOut } });
}

/** What a timeline says besides its sound: its picture too. */
function passthroughOfTimeline(timeline: Json, stack: Json): Passthrough | null {
  if (kindOf(timeline) !== 'Timeline') return null;
  const others = childrenOf(stack).filter((child) => child['kind'] === 'Video');
  return bearable({ ...timeline, tracks: { ...stack, children: others } });
}

/** JSON as the standard has it; numbers that are none, which some writers put there, are as good as left out. */
function parsed(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch (error) {
    const without = text.replace(/([:[,]\s*)(?:NaN|-?Infinity)(?=\s*[,\]}])/g, '$1null');
    if (without === text) throw error;
    return JSON.parse(without);
  }
}

/** How timecode counts at so many frames a second; nothing where that is no frame rate. */
function frameRateOf(perSecond: number): Pick<Cut, 'frameRateId'> {
  const found = FRAME_RATES.find((rate) => !rate.drop && Math.abs(rate.perSecond - perSecond) < 0.005);
  return found ? { frameRateId: found.id } : {};
}

/**
 * Reads the sound of an OpenTimelineIO file: audio tracks, clips, gaps, nested stacks, gain effects, and transitions as
 * crossfades. What is of no use here passes through, to be written back.
 * @param mostHours the longest that the programme may be
 * @throws CutError when it is none, damaged, too long or without sound
 */
export function readOtio(text: string, mostHours = USUAL_MOST_HOURS): Cut {
  let json: unknown;
  try {
    json = parsed(text);
  } catch {
    throw new CutError('notACut', 'This is not an OpenTimelineIO file: it is not JSON.', HINT);
  }
  if (!isObject(json) || kindOf(json) === '')
    throw new CutError('notACut', 'This is not an OpenTimelineIO file.', HINT);
  const isTimeline = kindOf(json) === 'Timeline';
  const stack = isTimeline ? json['tracks'] : json;
  if (!isObject(stack)) throw damaged('it has no tracks');
  if (stack['enabled'] === false)
    throw new CutError('empty', 'All of the timeline is disabled.', 'Enable its tracks and export it again.');
  const { markers, rest } = markersIn(stack);
  const reader = new Reader();
  const tracks = kindOf(stack) === 'Stack' ? reader.tracks(stack) : reader.tracks({ children: [stack] });
  reader.end();
  const begins = isTimeline ? json['global_start_time'] : null;
  const beginsAt = isObject(begins) ? seconds(begins, 'its start time') : null;
  return checkedCut(
    {
      name: nameOf(json) || 'Timeline',
      tracks,
      bus: busIn(json['metadata']),
      markers,
      ...(Number.isFinite(reader.perSecond) && { perSecond: reader.perSecond }),
      ...(beginsAt !== null && { beginsAt, ...frameRateOf(Number((begins as Json)['rate'])) }),
      warnings: [...reader.warnings],
      faults: reader.faults,
      passthrough: passthroughOfTimeline(json, rest),
    },
    mostHours,
  );
}
