'use client';

import type { LedgerRow } from '@/core/proposals/ledger';
import { PLAIN_REQUEST } from '@/core/proposals/proposal';
import { gainsOf, propose } from '@/core/proposals/propose';
import { applyGains, changeGain } from '@/core/programme/edits/gain';
import { parseGainEntry, type GainEntry } from '@/core/programme/gainField';
import { heldClips } from '@/core/programme/heldChange';
import type { Clip, Id } from '@/core/programme/model';
import { figure, withUnit } from '@/core/text/figures';
import { count } from '@/core/text/words';
import { TypedCell } from '../../editing/TypedCell';
import { doHeld } from '../../session/doHeld';
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

/** The gain of a row, or of all that are chosen. */
export function GainCell({ clip, onDone }: { clip: Clip; onDone: () => void }) {
  const session = useSession();
  const enter = (entry: GainEntry): void => {
    const ids = meant(session, clip.id);
    const who = ids.size === 1 ? clip.name : count(ids.size, 'clip');
    if (entry.kind === 'set')
      return session.do(`Set gain of ${who} to ${gainText(entry.db)}`, (project) =>
        changeGain(project, ids, entry),
      );
    doHeld(
      session,
      heldClips(session.project, ids, entry.db),
      (db) => `Change gain of ${who} by ${gainText(db)}`,
      (project, db) => changeGain(project, ids, { kind: 'change', db }),
    );
  };
  return (
    <TypedCell
      label={`Gain of ${clip.name} in dB`}
      shown={figure(clip.gain.db, 2)}
      take={(text) => {
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
    <TypedCell
      label={`Loudness of ${clip.name} in LUFS`}
      shown={figure(row.level.lufs, 2)}
      take={(text) => {
        const goal = readFigure(text, 'After', 'integrated');
        if (typeof goal !== 'number') return goal.error;
        bring(goal);
        return null;
      }}
      onDone={onDone}
    />
  );
}
