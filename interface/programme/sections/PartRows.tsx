'use client';

import Button from '@mui/material/Button';
import type { SectionRow } from '@/core/proposals/sectionLevels';
import type { Clip, Project } from '@/core/programme/model';
import type { FrameRange } from '@/core/programme/sections';
import { placeText } from '@/core/programme/timeText';
import { signed } from '@/core/text/figures';
import { VirtualTable, type TableColumn } from '../../parts/VirtualTable';
import { useProject, useSession } from '../../session/SessionContext';
import { HearButton } from '../HearButton';

/** A part that was found, with its clip and where it is. */
export interface FoundPart {
  readonly key: string;
  readonly clip: Clip;
  readonly row: SectionRow;
  readonly range: FrameRange;
}

interface Props {
  readonly parts: readonly FoundPart[];
  readonly onAccept: (part: FoundPart) => void;
  readonly onLeave: (part: FoundPart) => void;
  /** The programme with one part levelled. */
  readonly proposed: (part: FoundPart) => Project;
}

/** Played before and after a part, seconds: how it fits is heard at its edges. */
const AROUND_SECONDS = 1;

/** Parts that were found, a row each. */
export function PartRows({ parts, onAccept, onLeave, proposed }: Props) {
  const session = useSession();
  const project = useProject();
  const around = AROUND_SECONDS * project.sampleRate;
  const placeOf = ({ range }: FoundPart): string => placeText(project, range.from);
  const nameOf = (part: FoundPart): string => `${part.clip.name} at ${placeOf(part)}`;
  const goTo = ({ clip, range }: FoundPart): void => {
    session.select([clip.id], true);
    session.listening.setRange(range.from, range.to);
    session.listening.seek(range.from);
    session.desk?.reveal(range.from / project.sampleRate);
  };
  const columns: readonly TableColumn<FoundPart>[] = [
    {
      heading: 'Hear',
      width: '30px',
      cell: (part) => (
        <HearButton
          clipId={part.clip.id}
          of={part.key}
          name={nameOf(part)}
          proposed={() => proposed(part)}
          range={{ from: part.range.from - around, to: part.range.to + around }}
        />
      ),
    },
    {
      heading: 'Clip',
      width: 'minmax(110px, 180px)',
      title: ({ clip }) => clip.name,
      sx: { fontWeight: 550 },
      cell: ({ clip }) => clip.name,
    },
    {
      heading: 'Where',
      width: '64px',
      cell: (part) => (
        <Button
          color="inherit"
          aria-label={`Go to ${nameOf(part)}`}
          onClick={() => goTo(part)}
          sx={{ p: 0, minWidth: 0, fontWeight: 450, textDecoration: 'underline' }}
        >
          {placeOf(part)}
        </Button>
      ),
    },
    { heading: 'Over rest', width: '64px', right: true, cell: ({ row }) => `${signed(row.overLu)} LU` },
    {
      heading: 'Gain dB',
      width: '64px',
      right: true,
      sx: { fontWeight: 650 },
      cell: ({ row }) => signed(row.changeDb),
    },
    {
      heading: 'Why',
      width: 'minmax(0, 1fr)',
      title: ({ row }) => row.sentence,
      sentence: true,
      cell: ({ row }) => `${row.limitedBy ? '▲ ' : ''}${row.sentence}`,
    },
    {
      heading: '',
      spoken: 'Accept or leave',
      width: '132px',
      sx: { display: 'flex', justifyContent: 'end' },
      cell: (part) => (
        <>
          <Button aria-label={`Leave ${nameOf(part)}`} color="inherit" onClick={() => onLeave(part)}>
            Leave
          </Button>
          <Button aria-label={`Accept ${nameOf(part)}`} onClick={() => onAccept(part)}>
            Accept
          </Button>
        </>
      ),
    },
  ];
  return (
    <VirtualTable
      label="Parts found"
      rows={parts}
      columns={columns}
      rowHeight={38}
      keyOf={({ key }) => key}
      rowProps={({ clip }) => ({ 'data-found-part': clip.name })}
    />
  );
}
