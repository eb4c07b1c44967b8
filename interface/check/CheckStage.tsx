'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { memo, useCallback, useMemo, useState } from 'react';
import { programmeLayout } from '@/core/audio/layout';
import { fixProposal } from '@/core/proposals/fixes/fixProposal';
import { count } from '@/core/text/words';
import { Skyline } from '../programme/Skyline';
import { useSession, useSessionState } from '../session/SessionContext';
import { OneOf } from '../ui/OneOf';
import { FailureNote } from '../ui/FailureNote';
import { Resizable } from '../ui/Resizable';
import { useRemembered } from '../ui/useRemembered';
import { CheckBar } from './CheckBar';
import { CompareFace } from './compare/CompareFace';
import { FigureList } from './FigureList';
import { FindingPanel } from './FindingPanel';
import { FindingTable } from './FindingTable';
import { FindingTools, keeps, type Shown } from './FindingTools';
import { ListenerFace, useAgainst, useHearingAs } from './ListenerFace';
import { useLookedProgramme } from './looked';
import { MendAllSheet } from './MendAllSheet';
import type { ChartData } from './overTime/panels';
import { OverTimeFace } from './overTime/OverTimeFace';
import { SharesFace } from './shares/SharesFace';
import { TargetsFace } from './TargetsFace';
import { ThresholdsMenu } from './ThresholdsMenu';
import { useCheckState, useShownCheck, type ShownCheck } from './useCheck';
import { usePicked } from './usePicked';
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

/** Holds the programme against its targets: what is wrong, where, and the smallest change that mends it. */
export function CheckStage() {
  // Nothing else here, so that what comes in sets off nothing but what is deferred.
  return <Checked check={useShownCheck()} />;
}

const Checked = memo(function Checked({ check }: { check: ShownCheck }) {
  const session = useSession();
  // As it is, whatever is previewed.
  const project = useSessionState((state) => state.history.project);
  const { checked, mends } = check;
  const proposal = useMemo(
    () => checked && fixProposal(project, checked.findings, mends),
    [project, checked, mends],
  );
  /** It is there, and drawn in a moment. */
  const isComing = useCheckState((state) => state.checked !== null) && checked === null;
  const failure = useCheckState((state) => state.failure);
  const mended = useCheckState((state) => state.mended);
  const mending = useCheckState(({ work }) => work === 'mending');
  const measuring = useSessionState((store) => store.measuring !== null);
  const programme = useSessionState((store) => store.programme);
  const [face, setFace] = useRemembered<Face>('check face', 'findings');
  const [shown, setShown] = useRemembered<Shown>('check shown', 'all');
  const [selected, setSelected] = useState<string | null>(null);
  const [sideWidth, setSideWidth] = useRemembered('check side width', 310);
  const of = usePicked(proposal, project);
  const { rows: all } = of;
  const rows = useMemo(() => all.filter(keeps[shown]), [all, shown]);
  const row = useMemo(() => all.find(({ id }) => id === selected) ?? null, [all, selected]);
  const breaking = useMemo(() => all.filter(keeps.breaks).length, [all]);
  const empty = project.clips.length === 0;
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
  const select = useCallback(
    (id: string): void => {
      setSelected(id);
      const found = all.find((one) => one.id === id)?.finding;
      if (found && !found.whole && !session.state.playing)
        session.listening.seek(found.from * session.project.sampleRate);
    },
    [all, session],
  );
  const found =
    empty || !checked
      ? ''
      : `${count(breaking, 'finding breaks', 'findings break')} a limit, ${count(all.length - breaking, 'other')}`;
  const nothing =
    checked && all.length === 0
      ? 'Nothing found: no limit is broken, and nothing is worth a look.'
      : checked
        ? 'None of these.'
        : isComing
          ? ''
          : measuring
            ? 'As soon as the programme is measured, it is looked through.'
            : 'Being looked through …';
  return (
    <Box sx={{ flex: 1, minHeight: 0, display: 'flex', flexDirection: 'column' }}>
      <CheckBar
        empty={empty}
        check={check}
        found={found}
        faces={
          <OneOf
            label="Face of the check"
            of={FACES}
            value={face}
            words={(each) => FACE_NAMES[each]}
            onSelect={setFace}
          />
        }
      >
        <ThresholdsMenu by={project} change={(name, edit) => session.do(name, edit)} />
      </CheckBar>
      {failure && (
        <FailureNote
          message={failure.message}
          hint={failure.hint}
          action={
            <Button color="inherit" onClick={() => session.checking.again()}>
              Check again
            </Button>
          }
        />
      )}
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
                        check={check}
                        busy={mending || checked === null}
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
});
