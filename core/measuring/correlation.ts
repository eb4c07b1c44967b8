import { crossfade, type Join } from '@/core/programme/edits/crossfades';
import type { Project } from '@/core/programme/model';
import { withoutLimiters } from '@/core/signal/asRecorded';
import { renderTaps } from '@/core/signal/mix';
import type { OpenSource } from '@/core/signal/source';

/**
 * How much two clips have in common where they are to cross, as they sound there without their fades: Σab / √(Σa²·Σb²) over
 * all channels, −1 to 1.
 * @param from, to programme frames
 * @returns `null` where one of them is silent
 */
export async function correlationAt(
  project: Project,
  join: Join,
  from: number,
  to: number,
  openSource: OpenSource,
): Promise<number | null> {
  const crossed = crossfade(withoutLimiters(project), join, from, to, 'equalPower');
  const ids = [join.before.id, join.after.id];
  const clips = crossed.clips
    .filter(({ id }) => ids.includes(id))
    .map((clip) => ({ ...clip, fadeIn: 0, fadeOut: 0 }));
  const count = Math.max(1, Math.round(to) - Math.round(from));
  const [a, b] = await renderTaps(
    { ...crossed, clips },
    openSource,
    Math.round(from),
    count,
    ids.map((id) => (clip) => clip.id === id),
  );
  let [aa, bb, ab] = [0, 0, 0];
  a!.forEach((samples, c) => {
    const other = b![c]!;
    for (let i = 0; i < samples.length; i++) {
      aa += samples[i]! ** 2;
      bb += other[i]! ** 2;
      ab += samples[i]! * other[i]!;
    }
  });
  return aa > 0 && bb > 0 ? Math.max(-1, Math.min(1, ab / Math.sqrt(aa * bb))) : null;
}
