import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useMemo } from 'react';
import { placeText } from '@/core/programme/timeText';
import type { Project } from '@/core/programme/model';
import { signed } from '@/core/text/figures';
import { count } from '@/core/text/words';
import { compareCut, type ClipFate, type ComparedClip } from '@/core/timeline/compareCut';
import { sourcesFor } from '../session/cuts';
import { useProject, useSession } from '../session/SessionContext';
import type { Session } from '../session/session';
import type { PendingCut } from '../session/state';
import { Fold } from '../ui/Fold';

const FATES: readonly ClipFate[] = ['same', 'moved', 'trimmed', 'new', 'gone'];
const WORDS: Readonly<Record<ClipFate, string>> = {
  ...{ same: 'the same', moved: 'moved', trimmed: 'trimmed or faded otherwise', new: 'new', gone: 'gone' },
};
/** Changes named one by one; of more only how many. */
const MOST_NAMED = 40;

/** Where a clip lay and where it will lie. */
function where(project: Project, { before, after }: ComparedClip): string {
  const span = (clip: { start: number; length: number }): string =>
    `${placeText(project, clip.start)} to ${placeText(project, clip.start + clip.length)}`;
  if (!before) return span(after!);
  if (!after) return span(before);
  return before.start === after.start && before.length === after.length
    ? span(after)
    : `${span(before)}, now ${span(after)}`;
}

function takeOver(session: Session, pending: PendingCut): void {
  const added = session.cuts.takeOver(pending);
  if (added.length === 0) return;
  session.select(added);
  session.notes.tell(
    `${count(added.length, 'clip')} of the timeline ${added.length === 1 ? 'is' : 'are'} new and selected: level ${added.length === 1 ? 'it' : 'them'} by the plan (P), or by hand, in Programme.`,
  );
}

/** A cut that came back from the edit beside the programme: what changed, and the button that takes it over. */
export function ComparedCut({ pending }: { pending: PendingCut }) {
  const session = useSession();
  const project = useProject();
  const { cut, links } = pending;
  const compared = useMemo(() => {
    if (!cut || project.clips.length === 0) return null;
    let made = 0;
    const { found } = sourcesFor({ cut, links }, project.sources);
    return compareCut(project, cut, found, () => `compared ${made++}`);
  }, [cut, links, project]);
  if (!compared) return null;
  const { counts, clips } = compared;
  // Nothing of it is here: it is another cut.
  if (counts.same + counts.moved + counts.trimmed === 0) return null;
  const changes = clips.filter(({ fate, toldDb }) => fate !== 'same' || toldDb !== null);
  return (
    <Box data-compared sx={{ mt: 0.5, p: 1, border: 1, borderColor: 'divider', borderRadius: 1 }}>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1.5, flexWrap: 'wrap' }}>
        <Box sx={{ flex: '1 1 300px' }}>
          <b>Beside this programme:</b>{' '}
          {FATES.filter((fate) => counts[fate] > 0)
            .map((fate) => `${counts[fate]} ${WORDS[fate]}`)
            .join(', ')}
          . What is still there keeps its gain and all that was done to it here; places, edges and fades
          become the timeline’s.
        </Box>
        <Button variant="contained" onClick={() => takeOver(session, pending)}>
          Take over the changes
        </Button>
      </Box>
      {changes.length > 0 && (
        <Fold name={`Changes (${changes.length})`} remember="changes of a timeline">
          <Box component="ul" sx={{ m: 0, pl: 2, fontSize: 12 }}>
            {changes.slice(0, MOST_NAMED).map((one) => (
              <li key={`${one.fate} ${(one.after ?? one.before)!.id}`}>
                <b>{(one.after ?? one.before)!.name}</b> on {one.track}: {WORDS[one.fate]},{' '}
                {where(project, one)}
                {one.toldDb !== null && `. The timeline says ${signed(one.toldDb)} dB; the gain here stays.`}
              </li>
            ))}
            {changes.length > MOST_NAMED && <li>… and {changes.length - MOST_NAMED} more</li>}
          </Box>
        </Fold>
      )}
    </Box>
  );
}
