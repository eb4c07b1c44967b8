'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useMemo, useState } from 'react';
import { CLICK_LIMITS, clickProposal, type ClickRow } from '@/core/proposals/clicks';
import { placeText } from '@/core/programme/timeText';
import { signed } from '@/core/text/figures';
import { count } from '@/core/text/words';
import { DraftField, readDraftNumber as read } from '../../editing/DraftField';
import type { NumberRange } from '../../editing/NumberField';
import { FailureNote } from '../../ui/FailureNote';
import { ProgressLine } from '../../ui/ProgressLine';
import type { DataColumn } from '../../ui/table/column';
import { useSession, useSessionState } from '../../session/SessionContext';
import { HearButton } from '../proposal/HearButton';
import { ProposalSheet } from '../proposal/ProposalSheet';
import { useRows } from '../proposal/useRows';
import { useClicks } from './useClicks';

/** Played before and after a click, seconds. */
const AROUND_SECONDS = 0.6;

const OVER: NumberRange = { name: 'Over the sound around it', min: 3, max: 40, unit: 'dB' };
const LEAST: NumberRange = { name: 'At least', min: -90, max: 0, unit: 'dBFS' };
/** Clicks where clips begin, end and follow on one another, each with the shortest fade that mends it. */
export function ClicksSheet({ onClose }: { onClose: () => void }) {
  const session = useSession();
  const project = useSessionState((state) => state.history.project);
  const { sampleRate } = project;
  const [over, setOver] = useState(String(CLICK_LIMITS.overDb));
  const [least, setLeast] = useState(signed(CLICK_LIMITS.leastDbfs, 0));
  const overDb = useMemo(() => read(over, OVER), [over]);
  const leastDbfs = useMemo(() => read(least, LEAST), [least]);
  const limits = useMemo(
    () => (typeof overDb === 'number' && typeof leastDbfs === 'number' ? { overDb, leastDbfs } : null),
    [overDb, leastDbfs],
  );
  const { found, done, failure, cancelled, cancel } = useClicks(project, limits);
  const proposal = useMemo(() => found && clickProposal(project, found), [project, found]);
  const of = useRows(proposal, project);
  const nameOf = ({ name, found: { at } }: ClickRow): string => `${name} at ${placeText(project, at, 2)}`;
  const goTo = ({ found: { clipId, at } }: ClickRow): void => {
    session.select([clipId], true);
    session.listening.seek(at);
    session.stage?.reveal(at / sampleRate);
  };
  const around = AROUND_SECONDS * sampleRate;
  const more: readonly DataColumn<ClickRow>[] = [
    {
      ...{ id: 'where', heading: 'Where', size: 76, order: ({ found: { at } }) => at },
      cell: (row) => (
        <Button
          color="inherit"
          aria-label={`Go to ${nameOf(row)}, ${placeText(project, row.found.at, 2)}`}
          onClick={() => goTo(row)}
          sx={{ p: 0, minWidth: 0, fontWeight: 450, textDecoration: 'underline' }}
        >
          {placeText(project, row.found.at, 2)}
        </Button>
      ),
    },
  ];
  return (
    <ProposalSheet
      label="Clicks at joins"
      of={of}
      ghosts={false}
      words={{
        subject: 'Click',
        nameOf,
        more,
        unused: ['proposed', 'peak'],
        hear: (row) => (
          <HearButton
            clipId={row.found.clipId}
            of={row.id}
            name={nameOf(row)}
            proposed={() => (of.isLeft(row.id) ? project : proposal!.edit(project, [row]))}
            range={{ from: row.found.at - around, to: row.found.at + around }}
          />
        ),
      }}
      fields={
        <>
          <Typography variant="h2" sx={{ lineHeight: '36px', mr: 0.5 }}>
            Clicks at joins
          </Typography>
          <DraftField
            label="Over its surroundings (dB)"
            text={over}
            value={overDb}
            width={160}
            onText={setOver}
          />
          <DraftField label="At least (dBFS)" text={least} value={leastDbfs} onText={setLeast} />
        </>
      }
      told="Each is mended by the shortest fade, or crossfade where the next clip follows, that brings it under these limits."
      apply={(n) => `Mend ${n > 0 ? count(n, 'click') : ''}`}
      empty={
        <Box sx={{ px: 1.5, pb: 1.5, fontSize: 13 }}>
          {failure ? (
            <FailureNote {...failure} />
          ) : cancelled ? (
            'Stopped. Change a limit to look again.'
          ) : found ? (
            `No clicks at ${count(project.clips.length, 'clip')}.`
          ) : limits ? (
            <ProgressLine label="Looking at every join" done={done} onCancel={cancel} />
          ) : (
            ''
          )}
        </Box>
      }
      onClose={onClose}
    />
  );
}
