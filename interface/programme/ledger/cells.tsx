'use client';

import InputBase from '@mui/material/InputBase';
import Tooltip from '@mui/material/Tooltip';
import { useState } from 'react';
import type { LedgerRow } from '@/core/proposals/ledger';
import { PLAIN_REQUEST } from '@/core/proposals/proposal';
import { gainsOf, propose } from '@/core/proposals/propose';
import { applyGains, changeGain } from '@/core/programme/edits/gain';
import { parseGainEntry, type GainEntry } from '@/core/programme/gainField';
import type { Clip, Id } from '@/core/programme/model';
import { figure, withUnit } from '@/core/text/figures';
import { count } from '../../parts/words';
import { useSession } from '../../session/SessionContext';
import type { Session } from '../../session/session';
import { gainText } from '../clipLevel';
import { readFigure } from '../level/levelFigures';
import { measuredClips } from '../useMeasuredClips';

/** The rows an entry is for: all that are chosen, if its own is one of them. */
function meant(session: Session, id: Id): ReadonlySet<Id> {
  const { selection } = session.state;
  return selection.has(id) ? selection : new Set([id]);
}

/** A cell being typed into: Enter applies, Escape gives up. @param read applies what was typed, or says what is accepted */
export function Cell({
  label,
  initial,
  read,
  onDone,
}: {
  label: string;
  initial: string;
  read: (text: string) => string | null;
  onDone: () => void;
}) {
  const [text, setText] = useState(initial);
  const [error, setError] = useState<string | null>(null);
  const apply = (): void => {
    const trouble = text === initial ? null : read(text);
    if (trouble === null) onDone();
    else setError(trouble);
  };
  return (
    <Tooltip open={error !== null} title={error ?? ''} placement="bottom">
      <InputBase
        autoFocus
        value={text}
        error={error !== null}
        inputProps={{ 'aria-label': label, 'aria-invalid': error !== null }}
        onFocus={(event) => event.target.select()}
        onChange={(event) => {
          setText(event.target.value);
          setError(null);
        }}
        onClick={(event) => event.stopPropagation()}
        onBlur={onDone}
        onKeyDown={(event) => {
          if (event.key === 'Enter') apply();
          else if (event.key === 'Escape') onDone();
          else return;
          event.preventDefault();
          event.stopPropagation();
        }}
        sx={{
          font: 'inherit',
          width: '100%',
          bgcolor: 'background.paper',
          outline: '1px solid',
          outlineColor: error ? 'error.main' : 'primary.main',
          '& input': { p: 0, px: 0.25, textAlign: 'right' },
        }}
      />
    </Tooltip>
  );
}

/** The gain of a row, or of all that are chosen. */
export function GainCell({ clip, onDone }: { clip: Clip; onDone: () => void }) {
  const session = useSession();
  const enter = (entry: GainEntry): void => {
    const ids = meant(session, clip.id);
    const who = ids.size === 1 ? clip.name : count(ids.size, 'clip');
    const name =
      entry.kind === 'set'
        ? `Set gain of ${who} to ${gainText(entry.db)}`
        : `Change gain of ${who} by ${gainText(entry.db)}`;
    session.do(name, (project) => changeGain(project, ids, entry));
  };
  return (
    <Cell
      label={`Gain of ${clip.name} in dB`}
      initial={figure(clip.gain.db, 2)}
      read={(text) => {
        const entry = parseGainEntry(text);
        if ('error' in entry) return entry.error;
        enter(entry);
        return null;
      }}
      onDone={onDone}
    />
  );
}

/** Where a row is to be, or all that are chosen, each by itself: the gain follows. */
export function AfterCell({ row, onDone }: { row: LedgerRow; onDone: () => void }) {
  const session = useSession();
  const { clip } = row.entry;
  const bring = (goal: number): void => {
    const { project } = session;
    const ids = meant(session, clip.id);
    const entries = measuredClips(
      session,
      project,
      project.clips.filter(({ id }) => ids.has(id)),
    );
    const { rows } = propose(entries, {
      ...PLAIN_REQUEST,
      ...{ goal, policy: 'pass' },
      ceilingDbtp: project.target.maxTruePeakDbtp,
    });
    const who = ids.size === 1 ? clip.name : count(ids.size, 'clip');
    session.do(`Bring ${who} to ${withUnit(goal, 'LUFS')}`, (state) => applyGains(state, gainsOf(rows)));
  };
  return (
    <Cell
      label={`Loudness of ${clip.name} in LUFS`}
      initial={figure(row.level.lufs, 2)}
      read={(text) => {
        const goal = readFigure(text, 'After', 'integrated');
        if (typeof goal !== 'number') return goal.error;
        bring(goal);
        return null;
      }}
      onDone={onDone}
    />
  );
}
