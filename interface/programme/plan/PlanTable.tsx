'use client';

import Box from '@mui/material/Box';
import Checkbox from '@mui/material/Checkbox';
import InputBase from '@mui/material/InputBase';
import MenuItem from '@mui/material/MenuItem';
import Select from '@mui/material/Select';
import Tooltip from '@mui/material/Tooltip';
import { stepSentence, type PlanStep } from '@/core/proposals/plan';
import {
  PLAN_PART_NAMES,
  PLAN_PARTS,
  SPEECH_FIRST,
  type Plan,
  type PlanLevel,
  type PlanPart,
} from '@/core/programme/plan';
import { figure, signed } from '@/core/text/figures';
import { useTyped } from '../../editing/useTyped';
import { readNumber } from '@/core/text/typedNumber';
import { MEASURE_NAMES } from '../level/levelFigures';

/** A figure of the plan that is typed. @param empty whether nothing may stand there */
function Figure(props: {
  readonly label: string;
  readonly shown: string;
  readonly range: readonly [min: number, max: number, unit: string];
  readonly empty?: boolean;
  readonly disabled: boolean;
  readonly onValue: (value: number | null) => void;
}) {
  const { label, shown, range, empty, disabled, onValue } = props;
  const { error, handlers } = useTyped(shown, (text) => {
    if (empty && text.trim() === '') {
      onValue(null);
      return null;
    }
    const [min, max, unit] = range;
    const message = `${label}: a number from ${figure(min, 0)} to ${figure(max, 0)} ${unit}${empty ? ', or nothing' : ''}`;
    const value = readNumber(text, message, range);
    if (typeof value !== 'number') return value.error;
    onValue(value);
    return null;
  });
  return (
    <Tooltip open={error !== null} title={error ?? ''}>
      <InputBase
        disabled={disabled}
        error={error !== null}
        placeholder={empty ? 'target’s' : undefined}
        inputProps={{ 'aria-label': label, 'aria-invalid': error !== null }}
        {...handlers}
        sx={{
          width: 64,
          px: 0.5,
          fontSize: 12.5,
          border: 1,
          borderColor: error ? 'error.main' : 'divider',
          borderRadius: 0.5,
          '& input': { p: 0, py: 0.25, textAlign: 'right' },
        }}
      />
    </Tooltip>
  );
}

interface Props {
  readonly plan: Plan;
  readonly steps: readonly PlanStep[];
  readonly onPlan: (plan: Plan) => void;
}

/** The parts of a plan, each with its level and with what becomes of it. */
export function PlanTable({ plan, steps, onPlan }: Props) {
  const change = (part: PlanPart, level: PlanLevel | null): void =>
    onPlan({ ...plan, levels: { ...plan.levels, [part]: level } });
  const select = { fontSize: 12.5, '& .MuiSelect-select': { py: 0.25 } } as const;
  return (
    <Box
      component="table"
      aria-label="Levels of the plan"
      sx={{
        borderCollapse: 'collapse',
        fontSize: 12.5,
        '& td, & th': { py: 0.25, pr: 1.25, textAlign: 'left', fontWeight: 450, whiteSpace: 'nowrap' },
        '& td[data-step]': { whiteSpace: 'normal' },
        '& thead th': { color: 'text.secondary', fontSize: 11.5 },
      }}
    >
      <thead>
        <tr>
          <th scope="col">Part</th>
          <th scope="col">LU from target</th>
          <th scope="col">Measured</th>
          <th scope="col">How</th>
          <th scope="col">Ceiling dBTP</th>
          <th scope="col">Result</th>
        </tr>
      </thead>
      <tbody>
        {PLAN_PARTS.map((part) => {
          const level = plan.levels[part];
          const usual = level ?? SPEECH_FIRST.levels[part]!;
          const step = steps.find((candidate) => candidate.part === part);
          const name = PLAN_PART_NAMES[part];
          return (
            <tr key={part} data-plan-part={part}>
              <th scope="row">
                <Checkbox
                  size="small"
                  checked={level !== null}
                  onChange={(_, checked) => change(part, checked ? usual : null)}
                  slotProps={{ input: { 'aria-label': `Level ${name}` } }}
                  sx={{ p: 0.25, mr: 0.5 }}
                />
                {name}
              </th>
              <td>
                <Figure
                  label={`Level of ${name}`}
                  shown={level ? signed(level.relativeLu) : '—'}
                  range={[-60, 20, 'LU']}
                  disabled={!level}
                  onValue={(relativeLu) => change(part, { ...usual, relativeLu: relativeLu ?? 0 })}
                />
              </td>
              <td>
                <Select
                  variant="standard"
                  disableUnderline
                  value={usual.measure}
                  disabled={!level}
                  onChange={(event) => change(part, { ...usual, measure: event.target.value })}
                  slotProps={{ input: { 'aria-label': `What is measured of ${name}` } }}
                  sx={select}
                >
                  {(['integrated', 'maxShortTerm', 'maxMomentary'] as const).map((measure) => (
                    <MenuItem key={measure} value={measure} dense>
                      {MEASURE_NAMES[measure]}
                    </MenuItem>
                  ))}
                </Select>
              </td>
              <td>
                <Select
                  variant="standard"
                  disableUnderline
                  value={usual.how}
                  disabled={!level}
                  onChange={(event) => change(part, { ...usual, how: event.target.value })}
                  slotProps={{ input: { 'aria-label': `How ${name} is levelled` } }}
                  sx={select}
                >
                  <MenuItem value="each" dense>
                    Each clip
                  </MenuItem>
                  <MenuItem value="source" dense>
                    By source, together
                  </MenuItem>
                </Select>
              </td>
              <td>
                <Figure
                  label={`Ceiling of ${name}`}
                  shown={usual.ceilingDbtp === null ? '' : figure(usual.ceilingDbtp)}
                  range={[-30, 3, 'dBTP']}
                  empty
                  disabled={!level}
                  onValue={(ceilingDbtp) => change(part, { ...usual, ceilingDbtp })}
                />
              </td>
              <td data-step title={step?.rows.flatMap((row) => row.warnings).join('\n')}>
                {step && stepSentence(step)}
              </td>
            </tr>
          );
        })}
      </tbody>
    </Box>
  );
}
