'use client';

import CloseIcon from '@mui/icons-material/Close';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import TextField from '@mui/material/TextField';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import Typography from '@mui/material/Typography';
import { useEffect, useMemo, useRef, useState } from 'react';
import { number } from 'yup';
import { gainsOf, propose } from '@/core/levelling/propose';
import type { LevelRequest } from '@/core/levelling/proposal';
import { applyGains } from '@/core/programme/edits/gain';
import type { Id, LevelMeasure, LevelMode } from '@/core/programme/model';
import { withUnit } from '@/core/text/figures';
import { count } from '../parts/words';
import { useProject, useSession, useSessionState } from '../session/SessionContext';
import { ProposalTable } from './ProposalTable';

const RANGES = { integrated: [-70, 0, 'LUFS'], truePeak: [-70, 3, 'dBTP'] } as const;

/** Checks a figure someone typed; gives the number, or what is accepted. */
function readFigure(text: string, label: string, measure: LevelMeasure): number | { error: string } {
  const [min, max, unit] = RANGES[measure];
  const message = `${label}: a number from −${-min} to ${max} ${unit}`;
  try {
    return number()
      .typeError(message)
      .required(message)
      .min(min, message)
      .max(max, message)
      .validateSync(text.trim().replace('−', '-').replace(',', '.'));
  } catch (error) {
    return { error: (error as Error).message };
  }
}

/** A choice of a few words. */
function Choice<T extends string>({
  label,
  value,
  options,
  onChange,
}: {
  label: string;
  value: T;
  options: readonly (readonly [T, string])[];
  onChange: (value: T) => void;
}) {
  return (
    <ToggleButtonGroup
      exclusive
      size="small"
      aria-label={label}
      value={value}
      onChange={(_, next: T | null) => next && onChange(next)}
    >
      {options.map(([option, text]) => (
        <ToggleButton key={option} value={option} sx={{ py: 0.25, px: 1.25, textTransform: 'none' }}>
          {text}
        </ToggleButton>
      ))}
    </ToggleButtonGroup>
  );
}

/** Levels clips: what is asked for on top, the proposal with its reasons below, applied as one step. */
export function LevelSheet({ onClose }: { onClose: () => void }) {
  const session = useSession();
  const project = useProject();
  const selection = useSessionState((state) => state.selection);
  const measurements = useSessionState((state) => state.clipMeasurements);
  const { target } = project;
  const [measure, setMeasure] = useState<LevelMeasure>('integrated');
  const [mode, setMode] = useState<LevelMode>('each');
  const [goalText, setGoalText] = useState<string | null>(null);
  const [ceilingText, setCeilingText] = useState<string | null>(null);
  const [left, setLeft] = useState<ReadonlySet<Id>>(new Set());
  const first = useRef<HTMLInputElement>(null);
  useEffect(() => first.current?.focus(), []);

  const standard = measure === 'integrated' ? target.integratedLufs : target.maxTruePeakDbtp;
  const goal = readFigure(goalText ?? String(standard), 'Goal', measure);
  const ceiling = readFigure(ceilingText ?? String(target.maxTruePeakDbtp), 'Ceiling', 'truePeak');
  const goalError = typeof goal === 'number' ? null : goal.error;
  const ceilingError = typeof ceiling === 'number' ? null : ceiling.error;
  const proposal = useMemo(() => {
    if (typeof goal !== 'number' || typeof ceiling !== 'number') return null;
    const request: LevelRequest = { measure, mode, goal, ceilingDbtp: ceiling };
    const chosen =
      selection.size > 0 ? project.clips.filter((clip) => selection.has(clip.id)) : project.clips;
    const measurementOf = session.clipMeasurements(project);
    const ordered = [...chosen].sort((a, b) => a.start - b.start);
    return propose(
      ordered.map((clip) => ({ clip, measurement: measurementOf(clip) })),
      request,
    );
    // eslint-disable-next-line react-hooks/exhaustive-deps -- measurements are read through the session
  }, [measure, mode, goal, ceiling, selection, project, session, measurements]);
  const wanted = proposal?.rows.filter((row) => row.skipped === null && !left.has(row.clipId)) ?? [];
  const skipped = proposal?.rows.filter((row) => row.skipped !== null).length ?? 0;
  const held = wanted.filter((row) => row.limitedBy !== null).length;

  const apply = (): void => {
    if (typeof goal !== 'number') return;
    const unit = RANGES[measure][2];
    session.do(
      `Level ${count(wanted.length, 'clip')} ${mode === 'each' ? 'each' : 'together'} to ${withUnit(goal, unit)}`,
      (current) => applyGains(current, gainsOf(wanted)),
    );
    onClose();
  };
  return (
    <Box
      component="section"
      aria-label="Level clips"
      onKeyDown={(event) => {
        if (event.key === 'Escape') onClose();
      }}
      sx={{
        maxHeight: 306,
        flex: 'none',
        display: 'flex',
        flexDirection: 'column',
        borderTop: 2,
        borderColor: 'primary.main',
        bgcolor: 'background.paper',
      }}
    >
      <Box
        sx={{
          display: 'flex',
          alignItems: 'start',
          gap: 1.25,
          px: 1.5,
          pt: 1.25,
          pb: 0.75,
          flexWrap: 'wrap',
        }}
      >
        <Typography variant="h2" sx={{ lineHeight: '32px', mr: 0.5 }}>
          Level{' '}
          {selection.size > 0
            ? count(proposal?.rows.length ?? selection.size, 'clip')
            : `all ${count(project.clips.length, 'clip')}`}
        </Typography>
        <Choice
          label="What is measured"
          value={measure}
          options={[
            ['integrated', 'Integrated'],
            ['truePeak', 'True peak'],
          ]}
          onChange={(next) => {
            setMeasure(next);
            setGoalText(null);
          }}
        />
        <Choice
          label="Each or together"
          value={mode}
          options={[
            ['each', 'Each'],
            ['together', 'Together'],
          ]}
          onChange={setMode}
        />
        <TextField
          label={`Goal (${RANGES[measure][2]})`}
          inputRef={first}
          value={goalText ?? String(standard).replace('-', '−')}
          error={goalError !== null}
          helperText={goalError}
          onChange={(event) => setGoalText(event.target.value)}
          onKeyDown={(event) => {
            if (event.key === 'Enter' && wanted.length > 0) apply();
          }}
          sx={{ width: goalError ? 200 : 104 }}
        />
        <TextField
          label="Ceiling (dBTP)"
          value={ceilingText ?? String(target.maxTruePeakDbtp).replace('-', '−')}
          error={ceilingError !== null}
          helperText={ceilingError}
          onChange={(event) => setCeilingText(event.target.value)}
          sx={{ width: ceilingError ? 200 : 112 }}
        />
        <Box sx={{ flex: 1 }} />
        <Button variant="contained" disabled={wanted.length === 0} onClick={apply} sx={{ mt: 0.25 }}>
          Apply {wanted.length > 0 ? count(wanted.length, 'gain') : ''}
        </Button>
        <IconButton size="small" aria-label="Close" onClick={onClose}>
          <CloseIcon fontSize="small" />
        </IconButton>
      </Box>
      <Box role="status" sx={{ px: 1.5, pb: 0.5, fontSize: 12, color: 'text.secondary' }}>
        {mode === 'each'
          ? 'Each clip by itself is brought to the goal.'
          : 'All get one change: their balance stays, and taken together they reach the goal.'}
        {held > 0 && ` ${count(held, 'clip stops', 'clips stop')} short.`}
        {skipped > 0 && ` ${count(skipped, 'clip is', 'clips are')} skipped.`}
      </Box>
      {proposal && (
        <ProposalTable
          rows={proposal.rows}
          measure={measure}
          left={left}
          onLeave={(id, leave) => {
            const next = new Set(left);
            if (leave) next.add(id);
            else next.delete(id);
            setLeft(next);
          }}
        />
      )}
    </Box>
  );
}
