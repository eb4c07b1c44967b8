'use client';

import PlayIcon from '@mui/icons-material/PlayArrow';
import StopIcon from '@mui/icons-material/Stop';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useMemo, useState } from 'react';
import { programmeLayout } from '@/core/audio/layout';
import { findingsReport, findingsTable } from '@/core/deliver/findingsReport';
import type { FixRow } from '@/core/proposals/fixes/fixProposal';
import type { Proposal } from '@/core/proposals/protocol';
import { count } from '@/core/text/words';
import { PlaceEntry } from '../programme/transport/PlaceEntry';
import { Skyline } from '../programme/Skyline';
import { useSession, useSessionState } from '../session/SessionContext';
import { OneOf } from '../ui/OneOf';
import { FailureNote } from '../ui/FailureNote';
import { ProgressLine } from '../ui/ProgressLine';
import { safeName } from '@/core/text/safeName';
import { SaveReport } from '../ui/SaveReport';
import { Resizable } from '../ui/Resizable';
import { useRemembered } from '../ui/useRemembered';
import { CompareFace } from './compare/CompareFace';
import { FigureList } from './FigureList';
import { FindingPanel } from './FindingPanel';
import { FindingTable } from './FindingTable';
import { ListenerFace, useAgainst, useHearingAs } from './ListenerFace';
import { useLookedProgramme } from './looked';
import { MendAllSheet } from './MendAllSheet';
import type { ChartData } from './overTime/panels';
import { OverTimeFace } from './overTime/OverTimeFace';
import { SharesFace } from './shares/SharesFace';
import { TargetsFace } from './TargetsFace';
import { ThresholdsMenu } from './ThresholdsMenu';
import { useCheck, workWords } from './useCheck';
import { usePicked, type PickedFixes } from './usePicked';
import { StageLink } from '../shell/StageLink';

const FACES = ['findings', 'targets', 'overTime', 'shares', 'listener', 'compare'] as const;
type Face = (typeof FACES)[number];
const FACE_NAMES: Readonly<Record<Face, string>> = {
  findings: 'Findings',
  targets: 'Targets',
  overTime: 'Over time',
  shares: 'What makes it loud',
  listener: 'Listener',
  compare: 'Compare',
};

const SHOWN = ['all', 'breaks', 'look', 'accepted'] as const;
type Shown = (typeof SHOWN)[number];

const keeps: Readonly<Record<Shown, (row: FixRow) => boolean>> = {
  all: () => true,
  breaks: ({ finding, accepted }) => finding.weight === 'breaks' && !accepted,
  look: ({ finding, accepted }) => finding.weight === 'look' && !accepted,
  accepted: ({ accepted }) => accepted !== null,
};
const SHOWN_NAMES: Readonly<Record<Shown, string>> = {
  all: 'All',
  breaks: 'Break a limit',
  look: 'Worth a look',
  accepted: 'Accepted',
};

function Empty() {
  const id = useSessionState((state) => state.history.project.id);
  return (
    <Box sx={{ p: 3 }}>
      <Typography variant="h2">There is nothing to check yet</Typography>
      <Typography variant="body2" sx={{ color: 'text.secondary' }}>
        Place clips in{' '}
        <StageLink projectId={id} stage="programme" sx={{ verticalAlign: 'baseline', p: 0 }}>
          Programme
        </StageLink>
        ; what is wrong with the mix is then found by itself.
      </Typography>
    </Box>
  );
}

function PlayButton({ empty }: { empty: boolean }) {
  const session = useSession();
  const playing = useSessionState((state) => state.playing);
  return (
    <Button
      variant="contained"
      disabled={empty}
      startIcon={playing ? <StopIcon /> : <PlayIcon />}
      onClick={() => session.listening.playOrStop()}
      sx={{ minWidth: 92 }}
    >
      {playing ? 'Stop' : 'Play'}
    </Button>
  );
}

/** Which findings are shown, and what is done to those that are picked. */
function FindingTools({
  of,
  proposal,
  shown,
  onShown,
  busy,
}: {
  of: PickedFixes;
  proposal: Proposal<FixRow> | null;
  shown: Shown;
  onShown: (shown: Shown) => void;
  busy: boolean;
}) {
  const session = useSession();
  const { rows, applied, waiting } = of;
  const breaks = rows.filter(keeps.breaks).length;
  const apply = (): void => {
    if (!proposal || applied.length === 0) return;
    session.do(proposal.step(applied, 0), (current) => proposal.edit(current, applied));
  };
  return (
    <Box sx={{ display: 'flex', gap: 1, alignItems: 'center', px: 1.5, py: 0.75, flexWrap: 'wrap' }}>
      <OneOf
        label="Findings shown"
        of={SHOWN}
        value={shown}
        words={(each) => `${SHOWN_NAMES[each]} ${rows.filter(keeps[each]).length}`}
        onSelect={onShown}
      />
      <Box sx={{ flex: 1 }} />
      {waiting > 0 && (
        <Box role="status" data-waiting={waiting} sx={{ fontSize: 12, color: 'text.secondary' }}>
          {count(waiting, 'more works', 'more work')} where another does: apply{' '}
          {waiting === 1 ? 'it' : 'them'} after.
        </Box>
      )}
      <SaveReport
        name={safeName(`${session.project.name} findings`)}
        disabled={rows.length === 0}
        table="Table (CSV), a row a finding"
        data="Data (JSON)"
        make={() => {
          const findings = findingsReport(rows);
          const { name, target } = session.project;
          const told = { programme: name, target: target.id, findings };
          return Promise.resolve({ table: findingsTable(findings), data: told });
        }}
      />
      <Button variant="outlined" disabled={applied.length === 0} onClick={apply}>
        {applied.length === 0 ? 'Apply picked fixes' : `Apply ${count(applied.length, 'fix', 'fixes')}`}
      </Button>
      <Button
        variant="contained"
        disabled={breaks === 0 || busy}
        onClick={() => void session.checking.mendAll()}
      >
        Mend all that breaks a limit…
      </Button>
    </Box>
  );
}

/** Holds the programme against its targets: what is wrong, where, and the smallest change that mends it. */
export function CheckStage() {
  const session = useSession();
  const { project, state, proposal, isOld } = useCheck();
  const measuring = useSessionState((store) => store.measuring);
  const programme = useSessionState((store) => store.programme);
  const [face, setFace] = useRemembered<Face>('check face', 'findings');
  const [shown, setShown] = useRemembered<Shown>('check shown', 'all');
  const [selected, setSelected] = useState<string | null>(null);
  const [sideWidth, setSideWidth] = useRemembered('check side width', 310);
  const of = usePicked(proposal, project);
  const rows = of.rows.filter(keeps[shown]);
  const row = of.rows.find(({ id }) => id === selected) ?? null;
  const empty = project.clips.length === 0;
  const { checked, failure, mended } = state;
  const looked = useLookedProgramme();
  const hearing = useHearingAs();
  const against = useAgainst();
  const data = useMemo(
    (): ChartData | null =>
      checked &&
      programme && {
        ...{ programme, overTime: checked.overTime, target: project.target },
        channels: programmeLayout(project.layoutId).labels,
        reductions: [...programme.reductions.values()],
      },
    [checked, programme, project.target, project.layoutId],
  );
  const work = workWords(state);
  const breaking = of.rows.filter(keeps.breaks).length;
  const select = (id: string): void => {
    setSelected(id);
    const found = of.rows.find((one) => one.id === id)?.finding;
    if (found && !found.whole && !session.state.playing)
      session.listening.seek(found.from * project.sampleRate);
  };
  const nothing = (
    <Box sx={{ p: 2, color: 'text.secondary' }}>
      {checked && of.rows.length === 0
        ? 'Nothing found: no limit is broken, and nothing is worth a look.'
        : checked
          ? 'None of these.'
          : measuring !== null
            ? 'As soon as the programme is measured, it is looked through.'
            : 'Being looked through …'}
    </Box>
  );
  return (
    <Box sx={{ flex: 1, minHeight: 0, display: 'flex', flexDirection: 'column' }}>
      <Box
        role="toolbar"
        aria-label="Check"
        sx={{
          ...{ display: 'flex', alignItems: 'center', gap: 1, px: 1.5, minHeight: 44, flex: 'none' },
          ...{ borderBottom: 1, borderColor: 'divider', whiteSpace: 'nowrap' },
        }}
      >
        <PlayButton empty={empty} />
        <PlaceEntry />
        <OneOf
          label="Face of the check"
          of={FACES}
          value={face}
          words={(each) => FACE_NAMES[each]}
          onSelect={setFace}
        />
        {work && !isOld ? (
          <ProgressLine label={work} done={state.done} onCancel={() => session.checking.cancel()} />
        ) : (
          <Box
            role="status"
            data-check-state={isOld ? 'old' : 'done'}
            sx={{ fontSize: 12, color: 'text.secondary' }}
          >
            {empty || !checked
              ? ''
              : isOld
                ? 'Of the state before; the newest is being measured …'
                : `${count(breaking, 'finding breaks', 'findings break')} a limit, ${count(of.rows.length - breaking, 'other')}`}
          </Box>
        )}
        <Box sx={{ flex: 1 }} />
        <ThresholdsMenu by={project} change={(name, edit) => session.do(name, edit)} />
      </Box>
      {failure && <FailureNote message={failure.message} hint={failure.hint} />}
      {empty ? (
        <Empty />
      ) : (
        <Resizable
          side="bottom"
          label="the sheet"
          size={mended ? 200 : 0}
          least={120}
          leastMain={260}
          onSize={() => undefined}
          main={
            <Resizable
              side="right"
              label="the side sheet"
              size={sideWidth}
              least={240}
              leastMain={480}
              onSize={setSideWidth}
              main={
                <>
                  <Box
                    sx={{ px: 1.5, pt: 0.5, pb: 0.75, borderBottom: 1, borderColor: 'divider', flex: 'none' }}
                  >
                    <Skyline view={null} marked={row && !row.finding.whole ? row.finding : null} />
                  </Box>
                  {face === 'findings' ? (
                    <>
                      <FindingTools
                        of={of}
                        proposal={proposal}
                        shown={shown}
                        onShown={setShown}
                        busy={state.work === 'mending' || isOld || checked === null}
                      />
                      <FindingTable
                        of={of}
                        rows={rows}
                        selected={selected}
                        onSelect={select}
                        empty={nothing}
                      />
                    </>
                  ) : face === 'overTime' ? (
                    data && <OverTimeFace data={data} looked={looked} />
                  ) : face === 'shares' ? (
                    <SharesFace project={project} checked={checked} />
                  ) : face === 'compare' ? (
                    programme && <CompareFace project={project} programme={programme} looked={looked} />
                  ) : face === 'listener' ? (
                    checked && <ListenerFace judged={checked.judged} hearing={hearing} against={against} />
                  ) : (
                    <TargetsFace project={project} whole={checked?.judged ?? null} />
                  )}
                </>
              }
            >
              <Box
                sx={{
                  overflow: 'auto',
                  flex: 1,
                  bgcolor: 'background.paper',
                  borderLeft: 1,
                  borderColor: 'divider',
                }}
              >
                {face === 'findings' && row ? (
                  <FindingPanel key={row.id} row={row} project={project} />
                ) : (
                  checked && (
                    <FigureList
                      looked={looked}
                      target={project.target}
                      judged={checked.judged}
                      details={checked.details}
                      levels={programme}
                    />
                  )
                )}
              </Box>
            </Resizable>
          }
        >
          {mended && <MendAllSheet project={project} mended={mended} />}
        </Resizable>
      )}
    </Box>
  );
}
