'use client';

import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import Typography from '@mui/material/Typography';
import { useEffect, useMemo, useState } from 'react';
import {
  carriedOut,
  isChanged,
  placesOverCeiling,
  planProposal,
  planShift,
  shiftSentence,
  planSteps,
  type PlanShift,
} from '@/core/proposals/plan';
import { ruledBlocks } from '@/core/proposals/programmeShift';
import { setByEar } from '@/core/proposals/setByEar';
import { withoutCurve } from '@/core/programme/curveReason';
import type { Clip, Id, Project } from '@/core/programme/model';
import { placeText } from '@/core/programme/timeText';
import { SPEECH_FIRST, type Plan } from '@/core/programme/plan';
import { figure, withUnit } from '@/core/text/figures';
import type { ProgrammeSummary } from '@/engine/protocol';
import { count } from '@/core/text/words';
import { useProject, useSession, useSessionState } from '../../session/SessionContext';
import { HearButton } from '../proposal/HearButton';
import { ProposalSheet } from '../proposal/ProposalSheet';
import { useExactPeaks } from '../proposal/useExactPeaks';
import { useRows } from '../proposal/useRows';
import { gainText } from '../clipLevel';
import { useMeasuredAtRest, usePlaceTold } from '../useMeasuredClips';
import { HandSetGains } from './HandSetGains';
import { PlanChoice } from './PlanChoice';
import { PlanDucking } from './PlanDucking';
import { PlanTable } from './PlanTable';

/** So many places where the sum is too hot are named. */
const MOST_PLACES = 4;

/** The common shift of a programme with a plan's gains. */
interface Solved {
  readonly planned: Project;
  /** The measurement that the shift follows from. */
  readonly programme: ProgrammeSummary;
  readonly shift: PlanShift | null;
}

const UNMEASURED = 'Some clips are still being measured.';

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
          onClick={() => session.listening.seek(from * project.sampleRate)}
          sx={{ p: 0, mr: 0.75, minWidth: 0, textDecoration: 'underline', fontWeight: 500 }}
        >
          {placeText(project, from * project.sampleRate)} ({withUnit(worst, 'dBTP')})
        </Button>
      ))}
    </Alert>
  );
}

/** A level per role, and what carrying it out makes of the programme: seen, heard and measured first, done as one step. */
export function PlanSheet({ onClose }: { onClose: () => void }) {
  const session = useSession();
  const project = useSessionState((state) => state.history.project);
  const shown = useProject();
  const programme = useSessionState((state) => state.programme);
  const measuring = useSessionState((state) => state.measuring !== null);
  const place = usePlaceTold();
  const [plan, setPlan] = useState<Plan>(project.plan ?? SPEECH_FIRST);
  const [release, setRelease] = useState<ReadonlySet<Id>>(new Set());
  const [view, setView] = useState<'parts' | 'clips'>('parts');
  const [changedOnly, setChangedOnly] = useState(false);
  const entries = useMeasuredAtRest(project.clips);
  const measurements = useSessionState((state) => state.clipMeasurements);
  // Music that steps aside already is measured without its curve: carried out again, a plan comes to the same.
  useEffect(
    () => session.measureAlso(project.clips.filter(({ curve }) => curve.length > 0).map(withoutCurve)),
    [session, project.clips],
  );
  const steps = useMemo(
    () => {
      const measured = session.clipMeasurements(project);
      const bare = (clip: Clip) => measured(withoutCurve(clip));
      return planSteps(project, plan, entries, { release, changedOnly, place, bare });
    },
    // eslint-disable-next-line react-hooks/exhaustive-deps -- measurements are read through the session
    [session, project, plan, entries, release, changedOnly, place, measurements],
  );
  const byEar = useMemo(() => setByEar(project, project.clips), [project]);
  const changed = useMemo(() => entries.filter(isChanged).length, [entries]);
  const proposal = useMemo(() => planProposal(plan, steps, entries, place), [plan, steps, entries, place]);
  const of = useRows(proposal, project);
  useExactPeaks(of, entries, (wanted) =>
    session.findExactPeaks(wanted.flatMap(({ clip }) => [clip, withoutCurve(clip)])),
  );
  // The programme is measured with the plan's gains; the shift follows from that measurement, and is previewed as well.
  const planned = of.proposed;
  const [solved, setSolved] = useState<Solved | null>(null);
  if (!measuring && programme !== null && shown === planned && solved?.planned !== planned) {
    const level = {
      blocks: ruledBlocks(project, programme.blocks),
      truePeakDbtp: programme.figures.truePeakDbtp,
    };
    setSolved({ planned, programme, shift: planShift(level, project) });
  }
  const shift = solved?.planned === planned ? solved.shift : null;
  const shiftDb = shift?.changeDb ?? 0;
  const previewed = useMemo(
    () => (shiftDb === 0 ? planned : carriedOut(planned, plan, shiftDb)),
    [planned, plan, shiftDb],
  );
  const unmeasured = steps.some((step) => step.rows.some((row) => row.skipped === 'notMeasured'));
  const nothing = shift !== null && planned === project && shift.changeDb === 0;
  const told = !shift
    ? ''
    : nothing
      ? 'Everything stands where the plan wants it, and the programme at its target.'
      : `${shiftSentence(shift, project)} Integrated ${figure(shift.integratedAfter)} LUFS, true peak ${figure(shift.truePeakAfter)} dBTP.`;
  const waiting = unmeasured
    ? UNMEASURED
    : shift
      ? nothing
        ? ''
        : null
      : project.clips.length === 0
        ? 'There is nothing to level yet.'
        : 'Measuring the programme with these gains …';
  const keep = (): void =>
    session.do(`Save plan ${plan.name} in the project`, (current) => ({ ...current, plan }));
  return (
    <ProposalSheet
      label="Plan"
      of={of}
      preview="always"
      previewed={previewed}
      words={{
        subject: 'Clip',
        hear: (row) => (
          <HearButton clipId={row.id} name={row.name} proposed={() => proposal.edit(project, [row])} />
        ),
      }}
      fields={
        <>
          <Typography variant="h2" sx={{ lineHeight: '32px' }}>
            Plan
          </Typography>
          <ToggleButtonGroup
            exclusive
            size="small"
            aria-label="What is shown of the plan"
            value={view}
            onChange={(_, next: 'parts' | 'clips' | null) => next && setView(next)}
            sx={{ '& button': { textTransform: 'none', py: 0.25 } }}
          >
            <ToggleButton value="parts">Levels</ToggleButton>
            <ToggleButton value="clips">Clips</ToggleButton>
          </ToggleButtonGroup>
          <PlanChoice plan={plan} onPlan={setPlan} />
          <HandSetGains gains={byEar} released={release} onReleased={setRelease} />
          {(changedOnly || (changed > 0 && changed < entries.length)) && (
            <FormControlLabel
              control={
                <Checkbox
                  size="small"
                  checked={changedOnly}
                  onChange={(_, checked) => setChangedOnly(checked)}
                />
              }
              label={<Box sx={{ fontSize: 12.5 }}>Only what is new or stale ({changed})</Box>}
            />
          )}
          {plan !== project.plan && (
            <Button color="inherit" onClick={keep}>
              Save in the project
            </Button>
          )}
        </>
      }
      told={<span data-plan-shift={shift && waiting !== UNMEASURED ? shift.changeDb : ''}>{told}</span>}
      waiting={waiting}
      apply={() => 'Apply plan'}
      onApply={() => {
        if (!shift) return;
        session.do(proposal.step(of.picked, of.typedCount), (current) =>
          carriedOut(proposal.edit(current, of.picked), plan, shift.changeDb),
        );
      }}
      applyWithout
      onClose={onClose}
      instead={
        view === 'parts' ? (
          <Box sx={{ px: 1.5, pb: 1, overflow: 'auto' }}>
            <PlanTable plan={plan} steps={steps} onPlan={setPlan} />
            <PlanDucking plan={plan} onPlan={setPlan} />
            {shift?.limitedBy === 'ceiling' && (
              <SumCheck programme={solved!.programme} shift={shift} project={project} />
            )}
          </Box>
        ) : undefined
      }
    />
  );
}
