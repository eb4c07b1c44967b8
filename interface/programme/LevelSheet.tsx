'use client';

import CloseIcon from '@mui/icons-material/Close';
import HearIcon from '@mui/icons-material/HearingOutlined';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import IconButton from '@mui/material/IconButton';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import Tooltip from '@mui/material/Tooltip';
import Typography from '@mui/material/Typography';
import { useEffect, useMemo, useRef, useState } from 'react';
import { gainsOf, propose } from '@/core/levelling/propose';
import type { CeilingPolicy, LevelRequest } from '@/core/levelling/proposal';
import { UNIT, usualGoal } from '@/core/levelling/reading';
import { applyGains } from '@/core/programme/edits/gain';
import type { Id, LevelMeasure, LevelMode } from '@/core/programme/model';
import { figure, withUnit } from '@/core/text/figures';
import { count } from '../parts/words';
import { useProject, useSession, useSessionState } from '../session/SessionContext';
import { GoalMenu } from './GoalMenu';
import { MEASURE_NAMES, readFigure } from './levelFigures';
import { ProposalTable } from './ProposalTable';
import { measuredClips, setsOf, usePlaceTold, type SetKind } from './useMeasuredClips';

/** How clips are brought to the goal: each, or together by sets. */
type How = 'each' | SetKind;

const HOW: readonly (readonly [How, string])[] = [
  ['each', 'Each by itself'],
  ['all', 'All together'],
  ['source', 'Together by source'],
  ['track', 'Together by track'],
  ['role', 'Together by role'],
  ['group', 'Together by group'],
];

/** Noise that comes up past this is warned of unless another level is typed, LUFS. */
const USUAL_FLOOR_LUFS = -50;

/** A field for a figure, wider while it has something to say. */
function FigureField(props: {
  readonly label: string;
  readonly value: string;
  readonly error: string | null;
  readonly width: number;
  readonly onChange: (text: string) => void;
  readonly onEnter?: () => void;
  readonly inputRef?: React.Ref<HTMLInputElement>;
}) {
  const { label, value, error, width, onChange, onEnter, inputRef } = props;
  return (
    <TextField
      label={label}
      inputRef={inputRef}
      value={value}
      error={error !== null}
      helperText={error}
      onChange={(event) => onChange(event.target.value)}
      onKeyDown={(event) => {
        if (event.key === 'Enter') onEnter?.();
      }}
      sx={{ width: error ? 200 : width }}
    />
  );
}

const errorOf = (read: number | { readonly error: string }): string | null =>
  typeof read === 'number' ? null : read.error;

/** Levels clips: what is asked for on top, the proposal with its reasons below, applied as one step. */
export function LevelSheet({ onClose }: { onClose: () => void }) {
  const session = useSession();
  const project = useSessionState((state) => state.history.project);
  const shown = useProject();
  const selection = useSessionState((state) => state.selection);
  const measurements = useSessionState((state) => state.clipMeasurements);
  const place = usePlaceTold();
  const { target } = project;
  const [measure, setMeasure] = useState<LevelMeasure>('integrated');
  const [how, setHow] = useState<How>('each');
  const [policy, setPolicy] = useState<CeilingPolicy>('stop');
  const [spokenOnly, setSpokenOnly] = useState(false);
  const [goalText, setGoalText] = useState<string | null>(null);
  const [ceilingText, setCeilingText] = useState<string | null>(null);
  const [floorText, setFloorText] = useState<string | null>(null);
  const [left, setLeft] = useState<ReadonlySet<Id>>(new Set());
  const [hearing, setHearing] = useState(false);
  const first = useRef<HTMLInputElement>(null);
  useEffect(() => first.current?.focus(), []);

  const mode: LevelMode = how === 'each' ? 'each' : 'together';
  const text = (value: number): string => String(value).replace('-', '−');
  const goal = readFigure(goalText ?? text(usualGoal(measure, target)), 'Goal', measure);
  const ceiling = readFigure(ceilingText ?? text(target.maxTruePeakDbtp), 'Ceiling', 'truePeak');
  const floor = readFigure(floorText ?? text(USUAL_FLOOR_LUFS), 'Noise floor', 'integrated');
  const clips = useMemo(() => {
    const chosen =
      selection.size > 0 ? project.clips.filter((clip) => selection.has(clip.id)) : project.clips;
    return [...chosen].sort((a, b) => a.start - b.start);
  }, [project, selection]);
  const entries = useMemo(
    () => measuredClips(session, project, clips),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- measurements are read through the session
    [session, project, clips, measurements],
  );
  const someSpeech = entries.some(({ speech }) => speech != null);
  const proposal = useMemo(() => {
    if (typeof goal !== 'number' || typeof ceiling !== 'number' || typeof floor !== 'number') return null;
    const request: LevelRequest = {
      ...{ measure, mode, goal, policy, spokenOnly },
      ceilingDbtp: ceiling,
      floorLufs: floor,
    };
    return propose(entries, request, { place, setOf: setsOf(project, how === 'each' ? 'all' : how) });
  }, [entries, measure, mode, goal, ceiling, floor, policy, spokenOnly, how, place, project]);
  const wanted = useMemo(
    () => proposal?.rows.filter((row) => row.skipped === null && !left.has(row.clipId)) ?? [],
    [proposal, left],
  );
  const skipped = proposal?.rows.filter((row) => row.skipped !== null).length ?? 0;
  const held = wanted.filter((row) => row.limitedBy !== null).length;
  const past = wanted.filter((row) => row.passesCeiling).length;

  // While it is heard, the programme is shown and measured as it would be.
  useEffect(() => {
    session.setGhosts(new Map(wanted.map((row) => [row.clipId, row.gainAfterDb])));
    if (hearing) session.setPreview(applyGains(project, gainsOf(wanted)));
  }, [session, project, wanted, hearing]);
  useEffect(
    () => () => {
      session.setGhosts(new Map());
      session.setPreview(null);
    },
    [session],
  );

  const apply = (): void => {
    if (typeof goal !== 'number' || wanted.length === 0) return;
    session.do(
      `Level ${count(wanted.length, 'clip')} ${mode === 'each' ? 'each' : 'together'} to ${withUnit(goal, UNIT[measure])}`,
      (current) => applyGains(current, gainsOf(wanted)),
    );
    onClose();
  };
  const toggleHearing = (): void => {
    if (hearing) session.setPreview(null);
    setHearing(!hearing);
  };
  return (
    <Box
      component="section"
      aria-label="Level clips"
      onKeyDown={(event) => {
        if (event.key !== 'Escape') return;
        event.preventDefault();
        onClose();
      }}
      sx={{
        maxHeight: 340,
        flex: 'none',
        display: 'flex',
        flexDirection: 'column',
        borderTop: 2,
        borderColor: 'primary.main',
        bgcolor: 'background.paper',
      }}
    >
      <Box
        sx={{ display: 'flex', alignItems: 'start', gap: 1, px: 1.5, pt: 1.25, pb: 0.5, flexWrap: 'wrap' }}
      >
        <Typography variant="h2" sx={{ lineHeight: '36px', mr: 0.5 }}>
          Level{' '}
          {selection.size > 0 ? count(clips.length, 'clip') : `all ${count(project.clips.length, 'clip')}`}
        </Typography>
        <TextField
          select
          label="What"
          value={measure}
          onChange={(event) => {
            setMeasure(event.target.value as LevelMeasure);
            setGoalText(null);
          }}
          sx={{ width: 142 }}
        >
          {(Object.keys(MEASURE_NAMES) as LevelMeasure[]).map((key) => (
            <MenuItem key={key} value={key} dense>
              {MEASURE_NAMES[key]}
            </MenuItem>
          ))}
        </TextField>
        <Box sx={{ display: 'flex', alignItems: 'start' }}>
          <FigureField
            label={`Goal (${UNIT[measure]})`}
            inputRef={first}
            value={goalText ?? text(usualGoal(measure, target))}
            error={errorOf(goal)}
            width={98}
            onChange={setGoalText}
            onEnter={apply}
          />
          <GoalMenu
            entries={entries}
            measure={measure}
            target={target}
            ceilingDbtp={typeof ceiling === 'number' ? ceiling : target.maxTruePeakDbtp}
            onGoal={(next, value) => {
              setMeasure(next);
              setGoalText(figure(value, 2));
            }}
          />
        </Box>
        <TextField
          select
          label="How"
          value={how}
          onChange={(event) => setHow(event.target.value as How)}
          sx={{ width: 172 }}
        >
          {HOW.map(([key, name]) => (
            <MenuItem key={key} value={key} dense>
              {name}
            </MenuItem>
          ))}
        </TextField>
        <FigureField
          label="Ceiling (dBTP)"
          value={ceilingText ?? text(target.maxTruePeakDbtp)}
          error={errorOf(ceiling)}
          width={106}
          onChange={setCeilingText}
        />
        <Box sx={{ flex: 1 }} />
        <Tooltip title="See and hear the programme with these gains before applying them">
          <ToggleButton
            value="hear"
            size="small"
            selected={hearing}
            onChange={toggleHearing}
            sx={{ textTransform: 'none', height: 36, gap: 0.5 }}
          >
            <HearIcon fontSize="small" /> Try
          </ToggleButton>
        </Tooltip>
        <Button variant="contained" disabled={wanted.length === 0} onClick={apply} sx={{ height: 36 }}>
          Apply {wanted.length > 0 ? count(wanted.length, 'gain') : ''}
        </Button>
        <IconButton size="small" aria-label="Close" onClick={onClose}>
          <CloseIcon fontSize="small" />
        </IconButton>
      </Box>
      <Box
        sx={{ display: 'flex', alignItems: 'start', gap: 1, px: 1.5, pt: 0.75, pb: 0.75, flexWrap: 'wrap' }}
      >
        <ToggleButtonGroup
          exclusive
          size="small"
          aria-label="At the ceiling"
          value={policy}
          onChange={(_, next: CeilingPolicy | null) => next && setPolicy(next)}
          sx={{ height: 32 }}
        >
          <ToggleButton value="stop" sx={{ textTransform: 'none', px: 1 }}>
            Stop there
          </ToggleButton>
          <ToggleButton value="pass" sx={{ textTransform: 'none', px: 1 }}>
            Go past
          </ToggleButton>
        </ToggleButtonGroup>
        <FigureField
          label="Warn of noise over"
          value={floorText ?? text(USUAL_FLOOR_LUFS)}
          error={errorOf(floor)}
          width={124}
          onChange={setFloorText}
        />
        {someSpeech && (
          <FormControlLabel
            control={
              <Checkbox size="small" checked={spokenOnly} onChange={(_, checked) => setSpokenOnly(checked)} />
            }
            label={<Box sx={{ fontSize: 12.5 }}>Only while somebody speaks</Box>}
          />
        )}
        <Box
          role="status"
          sx={{ flex: 1, minWidth: 260, fontSize: 12, lineHeight: '16px', color: 'text.secondary' }}
        >
          {mode === 'each'
            ? 'Each clip by itself is brought to the goal.'
            : 'All of a set get one change: their balance stays, and taken together they reach the goal.'}
          {held > 0 && ` ${count(held, 'clip stops', 'clips stop')} short.`}
          {past > 0 && ` ${count(past, 'clip goes', 'clips go')} past the ceiling.`}
          {skipped > 0 && ` ${count(skipped, 'clip is', 'clips are')} skipped.`}
          {hearing && shown !== project && ' The programme is shown and heard with them.'}
        </Box>
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
