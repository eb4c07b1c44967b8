import { resetLevel } from '@/core/programme/edits/groups';
import { curveSections } from '@/core/programme/curve';
import type { Id } from '@/core/programme/model';
import { signed } from '@/core/text/figures';
import { count } from '@/core/text/words';
import type { Session } from './session';

/** Takes the gains off clips, as one step; says what went and what stays on them. */
export function resetGains(session: Session, ids: ReadonlySet<Id>): void {
  const clips = session.project.clips.filter(({ id }) => ids.has(id));
  const [first] = clips;
  if (!first) return;
  const one = clips.length === 1 ? first : null;
  const who = one ? one.name : count(clips.length, 'clip');
  const from = one && one.gain.db !== 0 ? ` from ${signed(one.gain.db, 2)} dB` : '';
  session.do(`Reset gain of ${who}${from}`, (project) => resetLevel(project, ids));
  const parts = clips.reduce((sum, clip) => sum + curveSections(clip).length, 0);
  const trimmed = clips.filter(({ trimDb }) => trimDb !== 0).length;
  const told = [
    ...(parts > 0 ? [`The gain of ${count(parts, 'part')} was taken off too.`] : []),
    ...(trimmed > 0 ? [`The source trim of ${one ? 'the clip' : count(trimmed, 'clip')} stays.`] : []),
  ];
  if (told.length > 0) session.notes.tell(told.join(' '));
}
