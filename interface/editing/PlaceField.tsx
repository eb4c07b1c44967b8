'use client';

import TextField from '@mui/material/TextField';
import type { Project } from '@/core/programme/model';
import { parsePlace, placeText } from '@/core/programme/timeText';
import { useTyped } from './useTyped';
import { useProject } from '../session/SessionContext';

/** A place in the programme by timecode or time, as the project shows it. Enter applies, Escape takes back. */
export function PlaceField({
  label,
  frame,
  of,
  help = null,
  onPlace,
}: {
  label: string;
  frame: number;
  /** How time is counted, where not as in the project. */
  of?: Pick<Project, 'time' | 'sampleRate'>;
  help?: string | null;
  onPlace: (frame: number) => void;
}) {
  const own = useProject();
  const project = of ?? own;
  const { error, handlers } = useTyped(
    placeText(project, frame, 3),
    (text) => {
      const place = parsePlace(project, text);
      if (typeof place !== 'number') return place.error;
      onPlace(place);
      return null;
    },
    undefined,
    true,
  );
  return (
    <TextField
      label={label}
      error={error !== null}
      helperText={error ?? help}
      {...handlers}
      sx={{ minWidth: 132, flex: help === null ? '0 0 132px' : undefined }}
    />
  );
}
