'use client';

import InputBase from '@mui/material/InputBase';
import Tooltip from '@mui/material/Tooltip';
import { useCallback, useRef, useState } from 'react';
import { parsePlace, placeText } from '@/core/programme/timeText';
import { useProject, useSession } from '../../session/SessionContext';
import { usePlayhead } from '../usePlayhead';

/** Where the playhead is; a place that is typed moves it there. */
export function PlaceEntry() {
  const session = useSession();
  const project = useProject();
  const { time, sampleRate } = project;
  const input = useRef<HTMLInputElement>(null);
  const typing = useRef(false);
  const [error, setError] = useState<string | null>(null);
  usePlayhead(
    input,
    useCallback(
      (element, frame) => {
        if (!typing.current) (element as HTMLInputElement).value = placeText({ time, sampleRate }, frame);
      },
      [time, sampleRate],
    ),
  );
  const leave = (): void => {
    typing.current = false;
    setError(null);
    if (input.current) input.current.value = placeText(project, session.state.playhead);
  };
  const apply = (): void => {
    const place = parsePlace(project, input.current?.value ?? '');
    if (typeof place !== 'number') return setError(place.error);
    session.listening.seek(place);
    session.stage?.reveal(place / sampleRate);
    leave();
    input.current?.blur();
  };
  return (
    <Tooltip title={error ?? 'Playhead; type a place to go there'} open={error === null ? undefined : true}>
      <InputBase
        inputRef={input}
        error={error !== null}
        inputProps={{
          'aria-label': 'Place of the playhead',
          'data-playhead': true,
          'aria-invalid': error !== null,
        }}
        onFocus={(event) => event.target.select()}
        onChange={() => {
          typing.current = true;
          setError(null);
        }}
        onBlur={leave}
        onKeyDown={(event) => {
          if (event.key === 'Enter') {
            event.preventDefault();
            apply();
          }
          if (event.key === 'Escape') {
            leave();
            input.current?.blur();
          }
        }}
        sx={{
          fontSize: 17,
          fontWeight: 600,
          width: time.frameRateId === null ? 86 : 112,
          '& input': { p: 0 },
        }}
      />
    </Tooltip>
  );
}
