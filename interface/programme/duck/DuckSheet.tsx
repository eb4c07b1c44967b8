'use client';

import Box from '@mui/material/Box';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import { useEffect, useMemo, useState } from 'react';
import { withoutCurve } from '@/core/programme/curveReason';
import { spokenClips } from '@/core/programme/dialogue';
import { DUCK_NAMES } from '@/core/programme/ducking';
import type { Clip, Id, Project, Role } from '@/core/programme/model';
import { duckProposal, type DuckRow } from '@/core/proposals/duck/duckProposal';
import { figure } from '@/core/text/figures';
import { count } from '@/core/text/words';
import type { DataColumn } from '../../ui/table/column';
import { useRemembered } from '../../ui/useRemembered';
import { ROLE_NAMES } from '../../ui/words';
import { useSession, useSessionState } from '../../session/SessionContext';
import { DraftField } from '../../editing/DraftField';
import { HearButton } from '../proposal/HearButton';
import { ReplaceCurves } from '../proposal/ReplaceCurves';
import { ProposalSheet } from '../proposal/ProposalSheet';
import { useRows } from '../proposal/useRows';
import { PLAIN_DUCK, readDuck, TIMING_KEYS, type DuckDraft } from './duckDraft';
import { SpeechNote } from './SpeechNote';

const STEP_ASIDE: readonly Role[] = ['music', 'ambience', 'effects'];

interface Scope {
  readonly id: string;
  readonly name: string;
  readonly clips: readonly Clip[];
}

/** What can step aside: what is selected and does not speak, else by role. */
function scopesOf(project: Project, selection: ReadonlySet<Id>): Scope[] {
  const speaking = new Set(spokenClips(project).map(({ id }) => id));
  const inOrder = [...project.clips].filter(({ id }) => !speaking.has(id)).sort((a, b) => a.start - b.start);
  const roleOf = new Map(project.tracks.map(({ id, role }) => [id, role]));
  const selected = inOrder.filter(({ id }) => selection.has(id));
  const roles = STEP_ASIDE.map((role) => ({
    id: role,
    name: ROLE_NAMES[role],
    clips: inOrder.filter(({ trackId }) => roleOf.get(trackId) === role),
  }));
  return [
    ...(selected.length > 0 ? [{ id: 'selected', name: 'Selected', clips: selected }] : []),
    ...roles,
  ].filter(({ clips }) => clips.length > 0);
}

/** Has music, effects or ambience step aside under speech: asked for on top, clip by clip below, applied as one step. */
export function DuckSheet({ onClose }: { onClose: () => void }) {
  const session = useSession();
  const project = useSessionState((state) => state.history.project);
  const selection = useSessionState((state) => state.selection);
  const measurements = useSessionState((state) => state.clipMeasurements);
  // What was asked for last is asked for again: done once more, everything stands where it does.
  const [draft, setDraft] = useRemembered(`duck ${project.id}`, PLAIN_DUCK);
  const [wanted, setWanted] = useState('');
  const [release, setRelease] = useState(false);
  const scopes = useMemo(() => scopesOf(project, selection), [project, selection]);
  const scope = scopes.find(({ id }) => id === wanted) ?? scopes[0] ?? null;
  const clips = useMemo(() => scope?.clips ?? [], [scope]);
  useEffect(() => session.measureAlso(clips.map(withoutCurve)), [session, clips]);
  const read = useMemo(() => readDuck(draft), [draft]);
  const { request } = read;
  const proposal = useMemo(
    () => {
      if (!request) return null;
      const of = session.clipMeasurements(project);
      return duckProposal(project, clips, request, { of, bare: (clip) => of(withoutCurve(clip)) }, release);
    },
    // eslint-disable-next-line react-hooks/exhaustive-deps -- measurements are read through the session
    [session, project, clips, request, release, measurements],
  );
  const of = useRows(proposal, project);
  const change = (part: Partial<DuckDraft>): void => setDraft({ ...draft, ...part });
  const more: readonly DataColumn<DuckRow>[] = [
    {
      ...{ id: 'alone', heading: 'Alone LUFS', size: 60, right: true, order: ({ aloneAfter }) => aloneAfter },
      cell: ({ aloneAfter }) => figure(aloneAfter),
    },
  ];
  return (
    <ProposalSheet
      label="Duck under speech"
      of={of}
      words={{
        subject: 'Clip',
        more,
        unused: ['peak', 'floor'],
        hear: (row) => (
          <HearButton clipId={row.id} name={row.name} proposed={() => proposal!.edit(project, [row])} />
        ),
      }}
      fields={
        <>
          <TextField
            select
            label="Duck"
            value={scope?.id ?? ''}
            disabled={scope === null}
            onChange={(event) => setWanted(event.target.value)}
            sx={{ minWidth: 150 }}
          >
            {scopes.map(({ id, name, clips: some }) => (
              <MenuItem key={id} value={id}>
                {name}: {count(some.length, 'clip')}
              </MenuItem>
            ))}
          </TextField>
          <ToggleButtonGroup
            exclusive
            size="small"
            aria-label="How far down"
            value={draft.way}
            onChange={(_, way: DuckDraft['way'] | null) => way && change({ way })}
            sx={{ '& button': { textTransform: 'none', height: 36 } }}
          >
            <ToggleButton value="distance">To a distance</ToggleButton>
            <ToggleButton value="amount">By an amount</ToggleButton>
          </ToggleButtonGroup>
          {draft.way === 'distance' ? (
            <>
              <DraftField
                label="LU under the speech"
                text={draft.distance}
                value={read.distance}
                onText={(distance) => change({ distance })}
              />
              <DraftField
                label="Alone, LU from target"
                text={draft.alone}
                value={read.aloneLu}
                width={150}
                placeholder="as it is"
                onText={(alone) => change({ alone })}
              />
            </>
          ) : (
            <DraftField
              label="Down by (dB)"
              text={draft.amount}
              value={read.amount}
              onText={(amount) => change({ amount })}
            />
          )}
          <SpeechNote />
        </>
      }
      options={
        <>
          {TIMING_KEYS.map((key) => (
            <DraftField
              key={key}
              label={`${DUCK_NAMES[key]} (ms)`}
              text={draft.timing[key]}
              value={read.timing[key]}
              width={key === 'bridgeMs' ? 170 : 112}
              onText={(text) => change({ timing: { ...draft.timing, [key]: text } })}
            />
          ))}
          <ReplaceCurves kind="ducked" clips={clips} release={release} onRelease={setRelease} />
        </>
      }
      told={
        draft.way === 'distance'
          ? `All of them together come to lie that far under the speech, as both are measured${draft.alone.trim() === '' ? '; alone they stay as they are' : ''}.`
          : 'Each goes down by that much while somebody speaks.'
      }
      empty={
        <Box sx={{ px: 1.5, pb: 1.5, fontSize: 13 }}>
          {scope === null ? 'There is nothing that could step aside: everything here speaks.' : ''}
        </Box>
      }
      apply={(n) => `Duck ${n > 0 ? count(n, 'clip') : ''}`}
      ghosts={false}
      onClose={onClose}
    />
  );
}
