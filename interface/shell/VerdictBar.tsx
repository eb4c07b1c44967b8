'use client';

import WarningIcon from '@mui/icons-material/WarningAmber';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import Popover from '@mui/material/Popover';
import Tooltip from '@mui/material/Tooltip';
import { useMemo, useState } from 'react';
import { damagedSources, programmeFaults, sourceFaults } from '@/core/programme/damagedSources';
import { acceptCutFaults } from '@/core/programme/edits/check';
import { setTarget } from '@/core/programme/edits/project';
import { verdictOf } from '@/core/check/verdict';
import { FailureNote } from '../ui/FailureNote';
import { NO_FIGURES } from '../ui/noFigures';
import { count } from '@/core/text/words';
import { useLeftOut, useProject, useSession, useSessionState } from '../session/SessionContext';
import type { LeftOut } from '../session/sounds';
import { shownFigures } from '../session/state';
import { TargetMenu } from '../targets/TargetMenu';
import { MoreFigures } from './MoreFigures';
import { VerdictView } from './VerdictView';

/** Says that the figures rest on damaged files, and which. */
function DamagedNote() {
  const project = useProject();
  const damaged = useMemo(() => damagedSources(project), [project]);
  if (damaged.length === 0) return null;
  const told = damaged.map(
    (source) =>
      `${source.name}: ${sourceFaults(source)
        .map(({ sentence }) => sentence)
        .join(' ')}`,
  );
  return (
    <Tooltip title={<Box sx={{ whiteSpace: 'pre-line' }}>{told.join('\n')}</Box>}>
      <Box
        tabIndex={0}
        role="note"
        data-damaged
        aria-label={`The figures rest on damaged files. ${told.join(' ')}`}
        sx={{ display: 'flex', alignItems: 'center', gap: 0.5, fontSize: 12, color: 'warning.main' }}
      >
        <WarningIcon fontSize="small" />
        {count(damaged.length, 'damaged file')} in it
      </Box>
    </Tooltip>
  );
}

/** What the figures are of, in a few words. */
function stateWords(of: { moving: boolean; percent: number | null }): string {
  if (of.moving) return 'Moving';
  if (of.percent === null) return 'Measured';
  return `Measuring ${of.percent} %`;
}

/** Says which clips are in none of the figures, because their sound is not there. */
function LeftOutNote({ lost }: { lost: LeftOut }) {
  if (lost.clips.length === 0) return null;
  return (
    <Tooltip title={`Relink in Sources: ${lost.sources.join(', ')}`}>
      <Box
        tabIndex={0}
        role="note"
        data-left-out={lost.clips.length}
        sx={{ display: 'flex', alignItems: 'center', gap: 0.5, fontSize: 12, color: 'error.main' }}
      >
        <WarningIcon fontSize="small" />
        {count(lost.clips.length, 'clip')} without sound left out
      </Box>
    </Tooltip>
  );
}

/** Where the sound differs from the placed timeline, to be accepted. */
function CutFaultsNote() {
  const session = useSession();
  const { cutFaults, clips } = useProject();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  if (cutFaults.length === 0 || clips.length === 0) return null;
  const differences = count(cutFaults.length, 'timeline difference');
  return (
    <>
      <Button
        size="small"
        color="warning"
        startIcon={<WarningIcon fontSize="small" />}
        aria-haspopup="dialog"
        data-cut-faults={cutFaults.length}
        onClick={(event) => setAnchor(event.currentTarget)}
        sx={{ fontSize: 12, whiteSpace: 'nowrap' }}
      >
        {differences}
      </Button>
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
        slotProps={{
          paper: {
            role: 'dialog',
            'aria-label': 'Differences from the timeline',
            sx: { maxWidth: 460, p: 2 },
          },
        }}
      >
        <Box component="ul" sx={{ m: 0, pl: 2, maxHeight: 260, overflow: 'auto', fontSize: 13 }}>
          {[...new Set(cutFaults.map(({ sentence }) => sentence))].map((sentence) => (
            <li key={sentence}>{sentence}</li>
          ))}
        </Box>
        <Box sx={{ mt: 1.5, fontSize: 12, color: 'text.secondary' }}>
          The programme cannot be certified until they are accepted or the timeline is placed again.
        </Box>
        <Box sx={{ mt: 1, display: 'flex', justifyContent: 'flex-end', gap: 1 }}>
          <Button onClick={() => setAnchor(null)}>Close</Button>
          <Button
            variant="contained"
            onClick={() => {
              setAnchor(null);
              session.do(`Accept ${differences}`, acceptCutFaults);
            }}
          >
            Accept {differences}
          </Button>
        </Box>
      </Popover>
    </>
  );
}

/** The programme against its target, on every stage. */
export function VerdictBar() {
  const session = useSession();
  const project = useProject();
  const { target } = project;
  const integrity = useMemo(() => programmeFaults(project), [project]);
  const programme = useSessionState((state) => state.programme);
  const measuring = useSessionState((state) => state.measuring);
  const failure = useSessionState((state) => state.measureFailure);
  const moved = useSessionState((state) => state.moved);
  const { figures, peakIsBound } = useMemo(() => shownFigures({ programme, moved }), [programme, moved]);
  const moving = useSessionState((state) => state.preview !== null);
  /** What stands there is of the state before, and nothing newer is known. */
  const isOld = measuring !== null && moved === null && programme !== null;
  const percent = measuring === null ? null : Math.round(measuring * 100);
  const lost = useLeftOut();
  const verdict = useMemo(
    // Figures of an older state are no verdict on one that could not be measured.
    () => verdictOf({ ...((failure ? null : figures) ?? NO_FIGURES), integrity }, target, lost.clips.length),
    [figures, failure, integrity, target, lost],
  );
  return (
    <Box
      component="section"
      aria-label="Verdict on the programme"
      sx={{
        ...{ borderBottom: 1, borderColor: 'divider', bgcolor: 'background.paper', position: 'relative' },
        // As high with every figure as with none: nothing moves when one comes.
        minHeight: 66,
      }}
    >
      <VerdictView
        verdict={verdict}
        peakIsBound={peakIsBound}
        isOld={isOld}
        of="the whole programme"
        before={
          <TargetMenu
            target={target}
            onChoose={(next) => session.do(`Target ${next.name}`, (before) => setTarget(before, next))}
          />
        }
        after={
          <>
            <MoreFigures
              verdict={verdict}
              figures={figures ?? NO_FIGURES}
              dialogue={programme?.dialogue ?? null}
            />
            <LeftOutNote lost={lost} />
            <DamagedNote />
            <CutFaultsNote />
            <Box
              sx={{ ml: 'auto', fontSize: 11, color: 'text.secondary', whiteSpace: 'nowrap' }}
              data-measuring={measuring !== null}
            >
              {stateWords({ moving: moving && moved !== null, percent })}
            </Box>
          </>
        }
      />
      {measuring !== null && (
        <LinearProgress
          variant="determinate"
          value={Math.round(measuring * 100)}
          aria-label="Measuring the programme"
          sx={{ position: 'absolute', left: 0, right: 0, bottom: -1, height: 2 }}
        />
      )}
      {failure && (
        <FailureNote
          message={failure.message}
          hint={failure.hint}
          action={
            <Button color="inherit" onClick={() => session.measurer.want()}>
              Measure again
            </Button>
          }
        />
      )}
    </Box>
  );
}
