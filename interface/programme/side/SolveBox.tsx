'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { changeLevel } from '@/core/programme/edits/groups';
import { levelRoom } from '@/core/programme/clipGain';
import type { Clip } from '@/core/programme/model';
import { figure, withUnit } from '@/core/text/figures';
import type { Solved } from '@/engine/protocol';
import { count } from '@/core/text/words';
import { useProject, useSession } from '../../session/SessionContext';
import { gainText } from '../clipLevel';

/** What was found, for which state of the programme. */
interface Answer {
  readonly project: object;
  readonly clips: readonly Clip[];
  readonly solved: Solved | { readonly trouble: string };
}

function sentence(solved: Solved, goal: number, who: string): string {
  const { answerDb, nearest, restLufs } = solved;
  if (answerDb !== null)
    return `${gainText(answerDb)} on ${who} puts the programme at ${withUnit(goal, 'LUFS')}, true peak at most ${figure(solved.peakBoundDbtp)} dBTP.`;
  const rest = restLufs === null ? '' : ` The rest alone measures ${withUnit(restLufs, 'LUFS')}.`;
  const near = nearest
    ? ` The nearest is ${withUnit(nearest.integratedLufs, 'LUFS')} with ${gainText(nearest.changeDb)}.`
    : '';
  return `No gain on ${who} alone puts the programme at ${withUnit(goal, 'LUFS')}.${rest}${near}`;
}

/** Which gain on what is chosen puts the whole programme at the target? Looked for when asked, applied when wanted. */
export function SolveBox({ clips }: { clips: readonly Clip[] }) {
  const session = useSession();
  const project = useProject();
  const [answer, setAnswer] = useState<Answer | null>(null);
  const [busy, setBusy] = useState(false);
  const who = clips.length === 1 ? 'this clip' : `these ${count(clips.length, 'clip')}`;
  const goal = project.target.integratedLufs;
  const current = answer?.project === project && answer.clips === clips ? answer.solved : null;
  const ids = new Set(clips.map((clip) => clip.id));
  const look = async (): Promise<void> => {
    setBusy(true);
    const solved = await session.measurer.solve(ids, goal, levelRoom(project, ids));
    setBusy(false);
    setAnswer({ project, clips, solved });
  };
  const apply = (db: number): void =>
    session.do(`${gainText(db)} on ${who}: programme to ${withUnit(goal, 'LUFS')}`, (state) =>
      changeLevel(state, ids, { kind: 'change', db }),
    );
  const answerDb = current && 'answerDb' in current ? current.answerDb : null;
  return (
    <Box sx={{ fontSize: 12 }}>
      <Button color="inherit" disabled={busy} onClick={() => void look()} sx={{ px: 0.5 }}>
        {busy ? 'Looking …' : `Programme to ${figure(goal)} with ${who} alone?`}
      </Button>
      {current && (
        <Box role="status" data-solved sx={{ px: 0.5 }}>
          {'trouble' in current ? current.trouble : sentence(current, goal, who)}
          {answerDb !== null && Math.abs(answerDb) >= 0.005 && (
            <Button variant="outlined" onClick={() => apply(answerDb)} sx={{ display: 'block', mt: 0.75 }}>
              Apply {gainText(answerDb)}
            </Button>
          )}
        </Box>
      )}
    </Box>
  );
}
