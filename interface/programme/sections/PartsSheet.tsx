'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useMemo, useState } from 'react';
import { proposeParts, STANDS_OUT_LU } from '@/core/proposals/findParts';
import { partsProposal, type PartRow } from '@/core/proposals/partsProposal';
import { placeText } from '@/core/programme/timeText';
import { figure, signed } from '@/core/text/figures';
import { readNumber } from '@/core/text/typedNumber';
import { count } from '@/core/text/words';
import type { DataColumn } from '../../ui/table/column';
import { useSession, useSessionState } from '../../session/SessionContext';
import { errorOf } from '../level/levelDraft';
import { useViewSettings } from '../viewSettings';
import { HearButton } from '../proposal/HearButton';
import { ProposalSheet } from '../proposal/ProposalSheet';
import { useRows } from '../proposal/useRows';
import { useMeasuredAtRest, usePlaceTold } from '../useMeasuredClips';

/** Played before and after a part, seconds: how it fits is heard at its edges. */
const AROUND_SECONDS = 1;

/** Parts of clips that stand out from the rest, each with the gain that brings it there. */
export function PartsSheet({ onClose }: { onClose: () => void }) {
  const session = useSession();
  const project = useSessionState((state) => state.history.project);
  const selection = useSessionState((state) => state.selection);
  const [text, setText] = useState(figure(STANDS_OUT_LU, 0));
  const distance = readNumber(text, 'Stands out by: a number from 3 to 30 LU', [3, 30, 'LU']);
  const clips = useMemo(
    () =>
      (selection.size > 0 ? project.clips.filter(({ id }) => selection.has(id)) : [...project.clips]).sort(
        (a, b) => a.start - b.start,
      ),
    [project.clips, selection],
  );
  const entries = useMeasuredAtRest(clips);
  const place = usePlaceTold();
  const { sampleRate, target } = project;
  const { rampSeconds } = useViewSettings();
  const proposal = useMemo(() => {
    if (typeof distance !== 'number') return null;
    const ceilingDbtp = target.maxTruePeakDbtp;
    const found = entries.flatMap((entry) =>
      proposeParts(entry, { ceilingDbtp, ramp: rampSeconds }, { distance, place }).map((part) => ({
        clip: entry.clip,
        part,
      })),
    );
    return partsProposal(found, { sampleRate, ceilingDbtp, rampFrames: rampSeconds * sampleRate });
  }, [entries, distance, place, target, sampleRate, rampSeconds]);
  const of = useRows(proposal, project);
  const waiting = entries.filter(({ measurement }) => measurement === null).length;

  const placeOf = ({ frames }: PartRow): string => placeText(project, frames.from);
  const nameOf = (row: PartRow): string => `${row.name} at ${placeOf(row)}`;
  const goTo = ({ clip, frames }: PartRow): void => {
    session.select([clip.id], true);
    session.listening.setRange(frames.from, frames.to);
    session.listening.seek(frames.from);
    session.stage?.reveal(frames.from / sampleRate);
  };
  const around = AROUND_SECONDS * sampleRate;
  const more: readonly DataColumn<PartRow>[] = [
    {
      ...{ id: 'where', heading: 'Where', size: 66, order: ({ frames }) => frames.from },
      cell: (row) => (
        <Button
          color="inherit"
          aria-label={`Go to ${nameOf(row)}, ${placeOf(row)}`}
          onClick={() => goTo(row)}
          sx={{ p: 0, minWidth: 0, fontWeight: 450, textDecoration: 'underline' }}
        >
          {placeOf(row)}
        </Button>
      ),
    },
    {
      ...{ id: 'over', heading: 'Over rest LU', size: 66, right: true, order: ({ part }) => part.overLu },
      cell: ({ part }) => signed(part.overLu),
    },
  ];
  return (
    <ProposalSheet
      label="Parts that stand out"
      of={of}
      words={{
        subject: 'Part',
        nameOf,
        more,
        applyRow: (row) => session.do(proposal!.step([row], 0), (current) => proposal!.edit(current, [row])),
        hear: (row) => (
          <HearButton
            clipId={row.clip.id}
            of={row.id}
            name={nameOf(row)}
            proposed={() => proposal!.edit(project, [row])}
            range={{ from: row.frames.from - around, to: row.frames.to + around }}
          />
        ),
      }}
      fields={
        <>
          <Typography variant="h2" sx={{ lineHeight: '36px', mr: 0.5 }}>
            Parts that stand out in {selection.size > 0 ? count(clips.length, 'clip') : 'all clips'}
          </Typography>
          <TextField
            label="By at least (LU)"
            value={text}
            error={typeof distance !== 'number'}
            helperText={errorOf(distance)}
            onChange={(event) => setText(event.target.value)}
            sx={{ width: typeof distance === 'number' ? 112 : 220 }}
          />
        </>
      }
      told={`Each part is levelled to the rest of its clip, with short ramps.${waiting > 0 ? ` ${count(waiting, 'clip is', 'clips are')} still being measured.` : ''}`}
      apply={(n) => `Apply ${n > 0 ? count(n, 'gain') : ''}`}
      staysOpen
      empty={
        <Box sx={{ px: 1.5, pb: 1.5, fontSize: 13 }}>
          {waiting > 0 || typeof distance !== 'number'
            ? ''
            : `Nothing stands out by ${figure(distance)} LU or more.`}
        </Box>
      }
      onClose={onClose}
    />
  );
}
