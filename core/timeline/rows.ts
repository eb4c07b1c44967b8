import { clipEnd, type Clip } from '@/core/programme/model';

/** Clips that follow each other on one track of the file, perhaps fading into one another. */
export interface Row {
  readonly clips: Clip[];
}

/** Whether a clip can follow the last on a row: after it, or under it by just the fade of both. */
function follows({ clips }: Row, clip: Clip): boolean {
  const last = clips.at(-1);
  const before = clips.at(-2);
  if (!last) return true;
  if (before && clipEnd(before) > clip.start) return false;
  const gap = clip.start - clipEnd(last);
  if (gap === 0) return last.fadeOut === 0 && clip.fadeIn === 0;
  if (gap > 0) return true;
  const shared = -gap;
  // One fade only fits between two clips: what they share, and no more of either.
  return last.fadeOut === shared && clip.fadeIn === shared && shared < clip.length && clip.start > last.start;
}

/** Lays the clips of a track in as few rows as it takes: clips of one row do not overlap but in a crossfade. */
export function rowsOf(clips: readonly Clip[]): Row[] {
  const rows: Row[] = [];
  for (const clip of [...clips].sort((a, b) => a.start - b.start)) {
    const row = rows.find((candidate) => follows(candidate, clip));
    if (row) row.clips.push(clip);
    else rows.push({ clips: [clip] });
  }
  return rows;
}
