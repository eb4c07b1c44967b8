import { markSpeech } from '@/core/programme/edits/speech';
import type { Clip } from '@/core/programme/model';
import { coveredBy } from '@/core/programme/sections';
import { count } from '@/core/text/words';
import type { Session } from '../../session/session';

/** Says that somebody speaks, or nobody does, in the part of clips that the range covers. */
export function markSpoken(session: Session, clips: readonly Clip[], spoken: boolean): void {
  const { range } = session.state;
  const some = range ? coveredBy(clips, range) : [];
  if (!range || some.length === 0) return;
  const who = some.length === 1 ? some[0]!.name : count(some.length, 'clip');
  session.do(`Mark a part of ${who} as ${spoken ? '' : 'not '}spoken`, (project) =>
    markSpeech(project, some, range, spoken),
  );
}
