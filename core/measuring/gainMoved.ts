import { totalDbOf } from '@/core/programme/clipGain';
import { programmeFrames, type Id, type Project } from '@/core/programme/model';
import { heardClips, type Heard } from '@/core/signal/audible';
import { areAlike } from '@/core/signal/differences';
import { clipGain, trackGain } from '@/core/signal/gains';
import { CLIP_PATH, PROGRAMME_PATH, TRACK_PATH } from '@/core/signal/path';
import { differenceAlong } from '@/core/signal/station';
import { movesLinearly } from './moving';

/** One gain on some clips of a programme, and nothing else. */
export interface GainMoved {
  /** The clips that are heard and moved. */
  readonly ids: ReadonlySet<Id>;
  /** dB */
  readonly changeDb: number;
}

/** Gains that differ by less came about by the same change, dB. */
const SAME_DB = 1e-9;

/** What may not differ: all but the gains. */
const clipRest = CLIP_PATH.filter((station) => station !== clipGain);
const trackRest = TRACK_PATH.filter((station) => station !== trackGain);

const sameButGain = (a: Heard, b: Heard): boolean =>
  a.clip.start === b.clip.start &&
  a.clip.length === b.clip.length &&
  a.clip.trackId === b.clip.trackId &&
  a.sound !== null &&
  b.sound !== null &&
  (a.sound === b.sound || differenceAlong(clipRest, a.sound, b.sound) === null) &&
  (a.bus === b.bus || differenceAlong(trackRest, a.bus, b.bus) === null);

/**
 * What moved from one state of a programme to another, where that is the gain of some clips by one amount: by their own, a
 * group's, a track's gain or a trim.
 * @returns `null` where anything else changed what is heard, or nothing did, or what they go through is not linear
 */
export function gainMoved(before: Project, after: Project): GainMoved | null {
  if (
    !areAlike(before, after) ||
    programmeFrames(before) !== programmeFrames(after) ||
    differenceAlong(PROGRAMME_PATH, before, after) !== null
  )
    return null;
  const [was, is] = [heardClips(before), heardClips(after)];
  if (was.size !== is.size) return null;
  const [wasDb, isDb] = [totalDbOf(before), totalDbOf(after)];
  const ids = new Set<Id>();
  let changeDb: number | null = null;
  for (const [id, now] of is) {
    const old = was.get(id);
    if (!old) return null;
    if (old.sound === now.sound && old.bus === now.bus) continue;
    if (!sameButGain(old, now)) return null;
    const by = isDb(now.clip) - wasDb(old.clip);
    if (Math.abs(by) < SAME_DB) continue;
    changeDb ??= by;
    if (Math.abs(by - changeDb) > SAME_DB) return null;
    ids.add(id);
  }
  return changeDb !== null && movesLinearly(before, ids) && movesLinearly(after, ids)
    ? { ids, changeDb }
    : null;
}
