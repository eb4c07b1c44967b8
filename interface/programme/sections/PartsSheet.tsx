'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useEffect, useMemo, useState } from 'react';
import { proposeParts, STANDS_OUT_LU } from '@/core/proposals/findParts';
import type { SectionRow } from '@/core/proposals/sectionLevels';
import type { SectionEdit } from '@/core/programme/edits/sections';
import { sectionFrames } from '@/core/programme/sections';
import { figure } from '@/core/text/figures';
import { count } from '../../parts/words';
import { useProject, useSession, useSessionState } from '../../session/SessionContext';
import { BottomSheet } from '../BottomSheet';
import { errorOf } from '../level/levelDraft';
import { readNumber } from '@/core/text/typedNumber';
import { useLook } from '../look';
import { useMeasuredClips, usePlaceTold } from '../useMeasuredClips';
import { PartRows, type FoundPart } from './PartRows';
import { withParts } from './sectionActions';

/** A part is known by its clip and where it begins. */
const keyOf = ({ clipId, range }: SectionRow): string => `${clipId} ${range.from.toFixed(1)}`;

/** Parts of clips that stand out from the rest, each with the gain that brings it there: heard, accepted one by one or all. */
export function PartsSheet({ onClose }: { onClose: () => void }) {
  const session = useSession();
  const project = useProject();
  const selection = useSessionState((state) => state.selection);
  const [text, setText] = useState(figure(STANDS_OUT_LU, 0));
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  const distance = readNumber(text, 'Stands out by: a number from 3 to 30 LU', [3, 30, 'LU']);
  const clips = useMemo(
    () =>
      (selection.size > 0 ? project.clips.filter(({ id }) => selection.has(id)) : [...project.clips]).sort(
        (a, b) => a.start - b.start,
      ),
    [project.clips, selection],
  );
  const entries = useMeasuredClips(clips);
  const place = usePlaceTold();
  const { sampleRate, target } = project;
  const { rampSeconds } = useLook();
  const found = useMemo((): readonly FoundPart[] => {
    if (typeof distance !== 'number') return [];
    return entries.flatMap((entry) =>
      proposeParts(entry, { ceilingDbtp: target.maxTruePeakDbtp, ramp: rampSeconds }, { distance, place })
        .filter((row) => !left.has(keyOf(row)))
        .map((row) => ({
          key: keyOf(row),
          clip: entry.clip,
          row,
          range: sectionFrames(entry.clip, row.range, sampleRate),
        })),
    );
  }, [entries, distance, place, target, sampleRate, left, rampSeconds]);
  useEffect(() => () => session.listening.audition.stop(), [session]);
  const waiting = entries.filter(({ measurement }) => measurement === null).length;
  const gainOf = ({ clip, range, row }: FoundPart): SectionEdit => ({
    clipId: clip.id,
    range,
    change: { kind: 'change', db: row.changeDb },
  });
  const accept = (parts: readonly FoundPart[]): void =>
    session.do(
      parts.length === 1
        ? `Level a part of ${parts[0]!.clip.name} to the rest`
        : `Level ${parts.length} parts to the rest`,
      (state) => withParts(state, parts.map(gainOf)),
    );
  return (
    <BottomSheet
      label="Parts that stand out"
      onClose={onClose}
      top={
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
          <Box
            role="status"
            sx={{
              fontSize: 12,
              lineHeight: '16px',
              color: 'text.secondary',
              flex: 1,
              minWidth: 200,
              pt: 0.5,
            }}
          >
            Each is brought to the level of the rest of its clip by a gain on that part alone, with short
            ramps.
            {waiting > 0 && ` ${count(waiting, 'clip is', 'clips are')} still being measured.`}
          </Box>
          <Button
            variant="contained"
            disabled={found.length === 0}
            onClick={() => accept(found)}
            sx={{ height: 36 }}
          >
            Accept {found.length > 1 ? `all ${found.length}` : ''}
          </Button>
        </>
      }
    >
      {found.length === 0 ? (
        <Box sx={{ px: 1.5, pb: 1.5, fontSize: 13 }}>
          {waiting > 0 || typeof distance !== 'number'
            ? ''
            : `Nothing stands out by ${figure(distance)} LU or more.`}
        </Box>
      ) : (
        <PartRows
          parts={found}
          onAccept={(part) => accept([part])}
          onLeave={(part) => setLeft(new Set([...left, part.key]))}
          proposed={(part) => withParts(project, [gainOf(part)])}
        />
      )}
    </BottomSheet>
  );
}
