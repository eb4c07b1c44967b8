'use client';

import Box from '@mui/material/Box';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import { useEffect, useRef } from 'react';
import type { CeilingPolicy, MeasuredClip } from '@/core/proposals/proposal';
import { isPeak, UNIT } from '@/core/measuring/clipReading';
import type { LevelMeasure } from '@/core/programme/model';
import type { Target } from '@/core/check/target';
import { figure } from '@/core/text/figures';
import { GoalMenu } from './GoalMenu';
import {
  errorOf,
  HOW_NAMES,
  textsOf,
  type How,
  type LevelDraft,
  type ReadDraft,
  type Scope,
} from './levelDraft';
import { MEASURE_NAMES } from './levelFigures';

/** A field for a figure, wider while it has something to say. */
function FigureField(props: {
  readonly label: string;
  readonly value: string;
  readonly error: string | null;
  readonly width: number;
  readonly onChange: (text: string) => void;
  readonly inputRef?: React.Ref<HTMLInputElement>;
}) {
  const { label, value, error, width, onChange, inputRef } = props;
  return (
    <TextField
      label={label}
      inputRef={inputRef}
      value={value}
      error={error !== null}
      helperText={error}
      onChange={(event) => onChange(event.target.value)}
      sx={{ width: error ? Math.max(200, width) : width }}
    />
  );
}

interface Props {
  readonly draft: LevelDraft;
  readonly read: ReadDraft;
  readonly target: Target;
  readonly entries: readonly MeasuredClip[];
  readonly onDraft: (change: Partial<LevelDraft>) => void;
}

interface Asked extends Props {
  /** Choices that hold clips, and how many. */
  readonly scopes: readonly { readonly scope: Scope; readonly name: string }[];
  readonly hows: readonly How[];
}

/** Which clips are levelled, by what, to where and how. */
export function LevelFields({ draft, read, target, entries, scopes, hows, onDraft }: Asked) {
  const first = useRef<HTMLInputElement>(null);
  useEffect(() => first.current?.focus(), []);
  const { measure, how } = draft;
  const texts = textsOf(draft, target);
  return (
    <>
      <TextField
        select
        label="Apply to"
        value={draft.scope ?? ''}
        onChange={(event) => onDraft({ scope: event.target.value as Scope })}
        sx={{ width: 152 }}
      >
        {scopes.map(({ scope: key, name }) => (
          <MenuItem key={key} value={key} dense>
            {name}
          </MenuItem>
        ))}
      </TextField>
      <TextField
        select
        label="Measure"
        value={measure}
        onChange={(event) => onDraft({ measure: event.target.value as LevelMeasure, goalText: null })}
        sx={{ width: 136 }}
      >
        {(Object.keys(MEASURE_NAMES) as LevelMeasure[]).map((key) => (
          <MenuItem key={key} value={key} dense>
            {MEASURE_NAMES[key]}
          </MenuItem>
        ))}
      </TextField>
      <Box sx={{ display: 'flex', alignItems: 'start' }}>
        <FigureField
          label={`Target level (${UNIT[measure]})`}
          inputRef={first}
          value={texts.goal}
          error={errorOf(read.goal)}
          width={136}
          onChange={(goalText) => onDraft({ goalText })}
        />
        <GoalMenu
          entries={entries}
          measure={measure}
          target={target}
          ceilingDbtp={typeof read.ceiling === 'number' ? read.ceiling : target.maxTruePeakDbtp}
          onGoal={(next, value) => onDraft({ measure: next, goalText: figure(value, 2) })}
        />
      </Box>
      <TextField
        select
        label="Mode"
        value={how}
        onChange={(event) => onDraft({ how: event.target.value as How })}
        sx={{ width: 164 }}
      >
        {hows.map((key) => (
          <MenuItem key={key} value={key} dense>
            {HOW_NAMES[key]}
          </MenuItem>
        ))}
      </TextField>
    </>
  );
}

/** What happens at the ceiling, and what is worth a warning. */
export function LevelOptions({
  draft,
  read,
  target,
  entries,
  onDraft,
  canLimit = false,
}: Props & { canLimit?: boolean }) {
  return (
    <>
      {draft.how === 'name' && (
        <FigureField
          label="Names, one per set"
          value={draft.namesText}
          error={draft.namesText === '' ? null : errorOf(read.names)}
          width={190}
          onChange={(namesText) => onDraft({ namesText })}
        />
      )}
      <FigureField
        label="Ceiling (dBTP)"
        value={textsOf(draft, target).ceiling}
        error={errorOf(read.ceiling)}
        width={102}
        onChange={(ceilingText) => onDraft({ ceilingText })}
      />
      <ToggleButtonGroup
        exclusive
        size="small"
        aria-label="At the ceiling"
        value={draft.policy}
        onChange={(_, policy: CeilingPolicy | null) => policy && onDraft({ policy })}
        sx={{ height: 36 }}
      >
        <ToggleButton value="stop" sx={{ textTransform: 'none', px: 1 }}>
          Limit gain to ceiling
        </ToggleButton>
        <ToggleButton value="pass" sx={{ textTransform: 'none', px: 1 }}>
          Ignore ceiling
        </ToggleButton>
        {canLimit && !isPeak(draft.measure) && (
          <ToggleButton value="limit" sx={{ textTransform: 'none', px: 1 }}>
            Limit peaks
          </ToggleButton>
        )}
      </ToggleButtonGroup>
      <FigureField
        label="Warn if noise over"
        value={textsOf(draft, target).floor}
        error={errorOf(read.floor)}
        width={124}
        onChange={(floorText) => onDraft({ floorText })}
      />
      {entries.some(({ speech }) => speech != null) && (
        <FormControlLabel
          control={
            <Checkbox
              size="small"
              checked={draft.spokenOnly}
              onChange={(_, spokenOnly) => onDraft({ spokenOnly })}
            />
          }
          label={<Box sx={{ fontSize: 12.5 }}>Dialogue only</Box>}
        />
      )}
    </>
  );
}
