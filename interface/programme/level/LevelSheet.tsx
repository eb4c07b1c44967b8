'use client';

import HearIcon from '@mui/icons-material/HearingOutlined';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import ToggleButton from '@mui/material/ToggleButton';
import Tooltip from '@mui/material/Tooltip';
import { useEffect, useMemo, useState } from 'react';
import { isStale } from '@/core/proposals/ledger';
import { gainsOf, propose, typedRow, wantExactPeak } from '@/core/proposals/propose';
import type { MeasuredClip, Proposal } from '@/core/proposals/proposal';
import { UNIT } from '@/core/measuring/clipReading';
import { SET_KINDS, setsOf, type SetKind } from '@/core/proposals/sets';
import { applyGains } from '@/core/programme/edits/gain';
import { clipEnd, ROLES, type Id, type Project } from '@/core/programme/model';
import { withUnit } from '@/core/text/figures';
import { count, ROLE_NAMES } from '../../parts/words';
import { useProject, useSession, useSessionState } from '../../session/SessionContext';
import { BottomSheet } from '../BottomSheet';
import { PLAIN_DRAFT, readDraft, type How, type LevelDraft, type Scope } from './levelDraft';
import { LevelFields, LevelOptions } from './LevelFields';
import { ProposalTable } from './ProposalTable';
import { measuredClips, usePlaceTold } from '../useMeasuredClips';
import { useProposed } from '../useProposed';

/** Clips that can be levelled, and what they are called. */
interface ScopeOffered {
  readonly scope: Scope;
  readonly name: string;
  readonly entries: readonly MeasuredClip[];
}

/** Every scope that holds clips, these in order of time; the first is what is usually meant. */
function useScopes(project: Project): readonly ScopeOffered[] {
  const session = useSession();
  const selection = useSessionState((state) => state.selection);
  const range = useSessionState((state) => state.range);
  const measurements = useSessionState((state) => state.clipMeasurements);
  return useMemo(
    () => {
      const inOrder = [...project.clips].sort((a, b) => a.start - b.start);
      const all = measuredClips(session, project, inOrder);
      const offer = (
        scope: Scope,
        nameOf: (clips: number) => string,
        holds: (entry: MeasuredClip) => boolean,
      ): ScopeOffered[] => {
        const entries = all.filter(holds);
        return entries.length > 0 || scope === 'all'
          ? [{ scope, name: nameOf(entries.length), entries }]
          : [];
      };
      const roleOf = new Map(project.tracks.map(({ id, role }) => [id, role]));
      const named = (name: string) => (clips: number) => `${name}: ${count(clips, 'clip')}`;
      return [
        ...offer(
          'chosen',
          (n) => count(n, 'chosen clip'),
          ({ clip }) => selection.has(clip.id),
        ),
        ...offer(
          'all',
          (n) => `All ${count(n, 'clip')}`,
          () => true,
        ),
        ...offer(
          'range',
          (n) => `${count(n, 'clip')} in the range`,
          ({ clip }) => range !== null && clip.start < range.to && clipEnd(clip) > range.from,
        ),
        ...offer('stale', (n) => count(n, 'stale clip'), isStale),
        ...ROLES.flatMap((role) =>
          offer(`role ${role}`, named(ROLE_NAMES[role]), ({ clip }) => roleOf.get(clip.trackId) === role),
        ),
        ...project.tracks.flatMap(({ id, name }) =>
          offer(`track ${id}`, named(`Track ${name}`), ({ clip }) => clip.trackId === id),
        ),
      ];
    },
    // eslint-disable-next-line react-hooks/exhaustive-deps -- measurements are read through the session
    [session, project, selection, range, measurements],
  );
}

/** The ways to level that make a difference in a programme. */
function howsOf(project: Project): How[] {
  const some: Partial<Record<SetKind, boolean>> = {
    folder: project.sources.some(({ folder }) => folder !== ''),
    group: project.groups.length > 0,
    hand: project.clips.some(({ setName }) => setName !== null),
  };
  return ['each', ...SET_KINDS.filter((kind) => some[kind] ?? true)];
}

function told(draft: LevelDraft): string {
  if (draft.how === 'each') return 'Each clip by itself is brought to the goal.';
  if (draft.how === 'name')
    return 'Clips whose names (or their sources’) hold one of the names are a set, with one change; each other clip stands by itself.';
  if (draft.how === 'group' || draft.how === 'hand')
    return 'All of a set get one change: their balance stays, and taken together they reach the goal; each other clip stands by itself.';
  return 'All of a set get one change: their balance stays, and taken together they reach the goal.';
}

/** Levels clips: what is asked for on top, the proposal with its reasons below, applied as one step. */
export function LevelSheet({ onClose, onFindParts }: { onClose: () => void; onFindParts: () => void }) {
  const session = useSession();
  const project = useSessionState((state) => state.history.project);
  const shown = useProject();
  const place = usePlaceTold();
  const { target } = project;
  const scopes = useScopes(project);
  const [draft, setDraft] = useState(PLAIN_DRAFT);
  const [left, setLeft] = useState<ReadonlySet<Id>>(new Set());
  const [hearing, setHearing] = useState(false);
  // What was chosen may be chosen no more.
  const { scope, entries } = scopes.find((offered) => offered.scope === draft.scope) ?? scopes[0]!;
  const read = useMemo(() => readDraft(draft, target), [draft, target]);
  const { request, names } = read;
  const proposal = useMemo((): Proposal | null => {
    if (!request || 'error' in names) return null;
    const kind = draft.how === 'each' ? 'all' : draft.how;
    const setOf = setsOf(project, kind, names);
    return propose(entries, request, { place, setOf: ({ clip }) => setOf(clip) });
  }, [entries, request, names, draft.how, place, project]);
  const [typed, setTyped] = useState<ReadonlyMap<Id, number>>(new Map());
  const rows = useMemo(
    () =>
      proposal &&
      proposal.rows.map((row, i) => {
        const gainDb = typed.get(row.id);
        return gainDb === undefined ? row : typedRow(entries[i]!, row, proposal.request, gainDb, place);
      }),
    [proposal, typed, entries, place],
  );
  // Near the ceiling the promise to keep it needs the exact true peaks.
  const inexact = useMemo(() => (proposal ? wantExactPeak(proposal, entries) : []), [proposal, entries]);
  useEffect(() => session.findExactPeaks(inexact.map(({ clip }) => clip)), [session, inexact]);
  const wanted = useMemo(
    () => rows?.filter((row) => row.skipped === null && !left.has(row.id)) ?? [],
    [rows, left],
  );
  const skipped = rows?.filter((row) => row.skipped !== null).length ?? 0;
  const held = wanted.filter((row) => row.limitedBy !== null).length;
  const uneven = wanted.filter((row) => row.uneven).map(({ id }) => id);
  const past = wanted.filter((row) => row.passesCeiling).length;
  const proposed = useMemo(() => applyGains(project, gainsOf(wanted)), [project, wanted]);
  useProposed(wanted, hearing ? proposed : null);

  const apply = (): void => {
    if (!request || wanted.length === 0 || inexact.length > 0) return;
    const { mode, goal, measure } = request;
    const byHand = wanted.filter(({ id }) => typed.has(id)).length;
    session.do(
      `Level ${count(wanted.length, 'clip')} ${mode === 'each' ? 'each' : 'together'} to ${withUnit(goal, UNIT[measure])}${byHand > 0 ? `, ${byHand} by hand` : ''}`,
      (current) => applyGains(current, gainsOf(wanted)),
    );
    onClose();
  };
  const asked = {
    ...{ draft: { ...draft, scope }, read, target, entries },
    onDraft: (change: Partial<LevelDraft>) => setDraft((before) => ({ ...before, ...change })),
  };
  return (
    <BottomSheet
      label="Level clips"
      onClose={onClose}
      top={
        <>
          <LevelFields {...asked} scopes={scopes} hows={howsOf(project)} onEnter={apply} />
          <Box sx={{ flex: 1 }} />
          <Tooltip title="See and hear the programme with these gains before applying them">
            <ToggleButton
              value="hear"
              size="small"
              selected={hearing}
              onChange={() => setHearing(!hearing)}
              sx={{ textTransform: 'none', height: 36, gap: 0.5 }}
            >
              <HearIcon fontSize="small" /> Try
            </ToggleButton>
          </Tooltip>
          <Button
            variant="contained"
            disabled={wanted.length === 0 || inexact.length > 0}
            onClick={apply}
            sx={{ height: 36 }}
          >
            Apply {wanted.length > 0 ? count(wanted.length, 'gain') : ''}
          </Button>
        </>
      }
    >
      <Box sx={{ display: 'flex', alignItems: 'start', gap: 1, px: 1.5, py: 0.75, flexWrap: 'wrap' }}>
        <LevelOptions {...asked} />
        <Box
          role="status"
          sx={{ flex: 1, minWidth: 260, fontSize: 12, lineHeight: '16px', color: 'text.secondary' }}
        >
          {told(draft)}
          {draft.how === 'name' && 'error' in names && ` ${names.error}.`}
          {inexact.length > 0 &&
            ` Working out the exact true peak of ${count(inexact.length, 'clip')} near the ceiling …`}
          {held > 0 && ` ${count(held, 'clip stops', 'clips stop')} short.`}
          {past > 0 && ` ${count(past, 'clip goes', 'clips go')} past the ceiling.`}
          {skipped > 0 && ` ${count(skipped, 'clip is', 'clips are')} skipped.`}
          {hearing && shown !== project && ' The programme is shown and heard with them.'}
        </Box>
        {uneven.length > 0 && (
          <Button
            color="inherit"
            onClick={() => {
              session.select(uneven, true);
              onFindParts();
            }}
          >
            Find the parts of {count(uneven.length, 'uneven clip')}
          </Button>
        )}
      </Box>
      {rows && request && (
        <ProposalTable
          rows={rows}
          measure={request.measure}
          left={left}
          typed={typed}
          onType={(id, gainDb) => {
            const next = new Map(typed);
            if (gainDb === null) next.delete(id);
            else next.set(id, gainDb);
            setTyped(next);
          }}
          withRow={(row) => applyGains(project, gainsOf([row]))}
          onLeave={(id, leave) => {
            const next = new Set(left);
            if (leave) next.add(id);
            else next.delete(id);
            setLeft(next);
          }}
        />
      )}
    </BottomSheet>
  );
}
