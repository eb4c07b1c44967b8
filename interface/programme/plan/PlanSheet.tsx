'use client';

import CloseIcon from '@mui/icons-material/Close';
import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import IconButton from '@mui/material/IconButton';
import Typography from '@mui/material/Typography';
import { useEffect, useMemo, useState } from 'react';
import {
  carriedOut,
  placesOverCeiling,
  planShift,
  planSteps,
  withSteps,
  type PlanShift,
} from '@/core/levelling/plan';
import type { Project } from '@/core/programme/model';
import { placeText } from '@/core/programme/timeText';
import { SPEECH_FIRST, type Plan } from '@/core/programme/plan';
import { figure, withUnit } from '@/core/text/figures';
import type { ProgrammeSummary } from '@/engine/programme.worker';
import { count } from '../../parts/words';
import { useProject, useSession, useSessionState } from '../../session/SessionContext';
import { gainText } from '../clipLevel';
import { measuredClips, usePlaceTold } from '../useMeasuredClips';
import { PlanChoice } from './PlanChoice';
import { PlanTable } from './PlanTable';

/** So many places where the sum is too hot are named. */
const MOST_PLACES = 4;

/** Where the sum passes the ceiling with the shift that the target asks for. */
function SumCheck({
  programme,
  shift,
  project,
}: {
  programme: ProgrammeSummary;
  shift: PlanShift;
  project: Project;
}) {
  const session = useSession();
  const places = useMemo(
    () => placesOverCeiling(programme, shift.wantedDb, project.target),
    [programme, shift.wantedDb, project.target],
  );
  if (places.length === 0) return null;
  return (
    <Alert severity="warning" variant="outlined" sx={{ py: 0, mt: 0.75 }} data-sum-check={places.length}>
      With {gainText(shift.wantedDb)} the sum would pass the ceiling at {count(places.length, 'place')}:{' '}
      {places.slice(0, MOST_PLACES).map(({ from, worst }) => (
        <Button
          key={from}
          color="inherit"
          onClick={() => session.seek(from * project.sampleRate)}
          sx={{ p: 0, mr: 0.75, minWidth: 0, textDecoration: 'underline', fontWeight: 500 }}
        >
          {placeText(project, from * project.sampleRate)} ({withUnit(worst, 'dBTP')})
        </Button>
      ))}
    </Alert>
  );
}

function shiftSentence(shift: PlanShift, project: Project): string {
  const goal = withUnit(project.target.integratedLufs, 'LUFS');
  if (shift.limitedBy === 'ceiling')
    return `Then all tracks by ${gainText(shift.shiftDb)}; ${gainText(shift.wantedDb)} would reach ${goal}, but the programme’s true peak reaches ${withUnit(project.target.maxTruePeakDbtp, 'dBTP')} first.`;
  if (shift.limitedBy === 'gainRange')
    return `Then all tracks by ${gainText(shift.shiftDb)}; a track’s gain goes no further.`;
  return shift.shiftDb === 0
    ? `The programme then stands at ${goal}.`
    : `Then all tracks by ${gainText(shift.shiftDb)}, which brings the programme to ${goal}.`;
}

/** A level per role, and what carrying it out makes of the programme: seen, heard and measured first, done as one step. */
export function PlanSheet({ onClose }: { onClose: () => void }) {
  const session = useSession();
  const project = useSessionState((state) => state.history.project);
  const shown = useProject();
  const programme = useSessionState((state) => state.programme);
  const measuring = useSessionState((state) => state.measuring);
  const measurements = useSessionState((state) => state.clipMeasurements);
  const place = usePlaceTold();
  const [plan, setPlan] = useState<Plan>(project.plan ?? SPEECH_FIRST);
  const [release, setRelease] = useState(false);
  const steps = useMemo(
    () => planSteps(project, plan, measuredClips(session, project, project.clips), { release, place }),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- measurements are read through the session
    [session, project, plan, release, place, measurements],
  );
  const planned = useMemo(() => withSteps(project, steps), [project, steps]);

  // The programme is shown, heard and measured with the plan's gains; the shift follows from that measurement.
  useEffect(() => {
    session.setPreview(planned === project ? null : planned);
    const rows = steps.flatMap((step) => step.rows).filter((row) => row.skipped === null);
    session.setGhosts(new Map(rows.map((row) => [row.clipId, row.gainAfterDb])));
  }, [session, project, planned, steps]);
  useEffect(
    () => () => {
      session.setGhosts(new Map());
      session.setPreview(null);
    },
    [session],
  );

  const ready = measuring === null && programme !== null && shown === planned;
  const shift = useMemo(
    () =>
      ready
        ? planShift({ blocks: programme.blocks, truePeakDbtp: programme.figures.truePeakDbtp }, project)
        : null,
    [ready, programme, project],
  );
  const waiting = steps.some((step) => step.rows.some((row) => row.skipped === 'notMeasured'));
  const nothing = shift !== null && planned === project && shift.shiftDb === 0;
  const carryOut = (): void => {
    if (!shift) return;
    session.do(`Carry out the plan ${plan.name}`, (current) =>
      carriedOut(current, plan, steps, shift.shiftDb),
    );
    onClose();
  };
  const keep = (): void => session.do(`Keep the plan ${plan.name}`, (current) => ({ ...current, plan }));
  return (
    <Box
      component="section"
      aria-label="Plan"
      onKeyDown={(event) => {
        if (event.key !== 'Escape') return;
        event.preventDefault();
        onClose();
      }}
      sx={{
        maxHeight: 380,
        flex: 'none',
        display: 'flex',
        flexDirection: 'column',
        borderTop: 2,
        borderColor: 'primary.main',
        bgcolor: 'background.paper',
        px: 1.5,
        py: 1,
        overflow: 'auto',
      }}
    >
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, mb: 0.5 }}>
        <Typography variant="h2">Plan</Typography>
        <PlanChoice plan={plan} onPlan={setPlan} />
        <FormControlLabel
          control={<Checkbox size="small" checked={release} onChange={(_, checked) => setRelease(checked)} />}
          label={<Box sx={{ fontSize: 12.5 }}>Level gains set by hand as well</Box>}
        />
        <Box sx={{ flex: 1 }} />
        {plan !== project.plan && (
          <Button color="inherit" onClick={keep}>
            Keep with the project
          </Button>
        )}
        <Button variant="contained" autoFocus disabled={!shift || nothing || waiting} onClick={carryOut}>
          Carry out
        </Button>
        <IconButton size="small" aria-label="Close" onClick={onClose}>
          <CloseIcon fontSize="small" />
        </IconButton>
      </Box>
      <PlanTable plan={plan} steps={steps} onPlan={setPlan} />
      <Box role="status" data-plan-shift={shift ? shift.shiftDb : ''} sx={{ mt: 0.75, fontSize: 12.5 }}>
        {waiting
          ? 'Some clips are still being measured.'
          : !shift
            ? project.clips.length === 0
              ? 'There is nothing to level yet.'
              : 'Measuring the programme with these gains …'
            : nothing
              ? 'Everything stands where the plan wants it, and the programme at its target.'
              : `${shiftSentence(shift, project)} Integrated ${figure(shift.integratedAfter)} LUFS, true peak ${figure(shift.truePeakAfter)} dBTP.`}
      </Box>
      {shift?.limitedBy === 'ceiling' && programme && (
        <SumCheck programme={programme} shift={shift} project={project} />
      )}
    </Box>
  );
}
