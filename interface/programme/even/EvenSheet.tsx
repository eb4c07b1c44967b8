'use client';

import Box from '@mui/material/Box';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import Typography from '@mui/material/Typography';
import { useEffect, useMemo, useState } from 'react';
import { withoutCurve } from '@/core/programme/curveReason';
import { evenProposal, type EvenRow } from '@/core/proposals/evenProposal';
import { figure } from '@/core/text/figures';
import { count } from '@/core/text/words';
import { DraftField } from '../../editing/DraftField';
import { useSession, useSessionState } from '../../session/SessionContext';
import type { DataColumn } from '../../ui/table/column';
import { HearButton } from '../proposal/HearButton';
import { ProposalSheet } from '../proposal/ProposalSheet';
import { ReplaceCurves } from '../proposal/ReplaceCurves';
import { useRows } from '../proposal/useRows';
import { EVEN_FIELDS, PLAIN_EVEN_DRAFT, readEven, type EvenDraft, type EvenKey } from './evenDraft';

const TOLD: Readonly<Record<EvenDraft['way'], string>> = {
  even: 'What goes up and down slowly is brought nearer to one loudness; pauses are not brought up to it.',
  maxShortTerm: 'The smallest curve with which no three seconds of a clip are louder.',
  maxRange: 'The smallest curve with which the loudness range is no larger.',
};

/** Evens clips out by a slow curve each: asked for on top, clip by clip below, applied as one step. */
export function EvenSheet({ onClose }: { onClose: () => void }) {
  const session = useSession();
  const project = useSessionState((state) => state.history.project);
  const selection = useSessionState((state) => state.selection);
  const measurements = useSessionState((state) => state.clipMeasurements);
  const [draft, setDraft] = useState(PLAIN_EVEN_DRAFT);
  const [release, setRelease] = useState(false);
  const clips = useMemo(
    () =>
      [...project.clips]
        .filter(({ id }) => selection.size === 0 || selection.has(id))
        .sort((a, b) => a.start - b.start),
    [project.clips, selection],
  );
  useEffect(() => session.measureAlso(clips.map(withoutCurve)), [session, clips]);
  const { values, request } = useMemo(() => readEven(draft), [draft]);
  const proposal = useMemo(
    () => {
      if (!request) return null;
      const measured = session.clipMeasurements(project);
      return evenProposal(project, clips, request, (clip) => measured(withoutCurve(clip)), release);
    },
    // eslint-disable-next-line react-hooks/exhaustive-deps -- measurements are read through the session
    [session, project, clips, request, release, measurements],
  );
  const of = useRows(proposal, project);
  const change = (part: Partial<EvenDraft>): void => setDraft((before) => ({ ...before, ...part }));
  const field = (key: EvenKey) => {
    const { label, width, placeholder } = EVEN_FIELDS[key];
    return (
      <DraftField
        key={key}
        label={label}
        text={draft[key]}
        value={values[key]}
        width={width}
        {...(placeholder !== undefined && { placeholder })}
        onText={(text) => change({ [key]: text })}
      />
    );
  };
  const column = (
    id: string,
    heading: string,
    value: (row: EvenRow) => number | null | undefined,
  ): DataColumn<EvenRow> => ({
    ...{ id, heading, size: 58, right: true, order: (row) => value(row) ?? null },
    cell: (row) => figure(value(row) ?? null),
  });
  return (
    <ProposalSheet
      label="Even out"
      of={of}
      ghosts={false}
      words={{
        subject: 'Clip',
        unused: ['proposed', 'peak'],
        more: [
          column('lra', 'LRA LU', ({ figuresBefore }) => figuresBefore?.rangeLu),
          column('lraAfter', 'LRA after', ({ figuresAfter }) => figuresAfter?.rangeLu),
          column('most', 'Max short', ({ figuresBefore }) => figuresBefore?.maxShortTermLufs),
          column('mostAfter', 'Max after', ({ figuresAfter }) => figuresAfter?.maxShortTermLufs),
        ],
        hear: (row) => (
          <HearButton clipId={row.id} name={row.name} proposed={() => proposal!.edit(project, [row])} />
        ),
      }}
      fields={
        <>
          <Typography variant="h2" sx={{ lineHeight: '36px', mr: 0.5 }}>
            Even out {selection.size > 0 ? count(clips.length, 'clip') : 'all clips'}
          </Typography>
          <ToggleButtonGroup
            exclusive
            size="small"
            aria-label="What is asked for"
            value={draft.way}
            onChange={(_, way: EvenDraft['way'] | null) => way && change({ way })}
            sx={{ '& button': { textTransform: 'none', height: 36 } }}
          >
            <ToggleButton value="even">Nearer to one level</ToggleButton>
            <ToggleButton value="maxShortTerm">Loudest 3 s</ToggleButton>
            <ToggleButton value="maxRange">Largest LRA</ToggleButton>
          </ToggleButtonGroup>
          {draft.way === 'even' && field('goal')}
          {draft.way === 'maxShortTerm' && field('maxShortTerm')}
          {draft.way === 'maxRange' && field('maxRange')}
        </>
      }
      options={
        <>
          {field('range')}
          {field('speed')}
          {draft.way !== 'maxShortTerm' && (
            <>
              {field('pause')}
              {field('floor')}
            </>
          )}
          <ReplaceCurves kind="evened" clips={clips} release={release} onRelease={setRelease} />
        </>
      }
      told={TOLD[draft.way]}
      apply={(n) => `Even out ${n > 0 ? count(n, 'clip') : ''}`}
      empty={<Box sx={{ px: 1.5, pb: 1.5, fontSize: 13 }} />}
      onClose={onClose}
    />
  );
}
