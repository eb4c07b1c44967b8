import SaveIcon from '@mui/icons-material/SaveAlt';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import ButtonBase from '@mui/material/ButtonBase';
import LinearProgress from '@mui/material/LinearProgress';
import { useStore } from 'zustand';
import { OUTCOME_WORDS } from '@/core/check/verdict';
import type { DeliveryFile } from '@/core/deliver/deliveryFiles';
import { withUnit } from '@/core/text/figures';
import type { FileLine, LineState } from '../session/deliveries/fileLine';
import { isOnItsWay } from '../session/deliveries/fileLine';
import { useSession } from '../session/SessionContext';
import { LevelMark } from '../ui/LevelMark';
import { renderAgain, saveRendered } from './handoverActions';

const PHASE_WORDS: Readonly<Record<LineState, string>> = {
  waiting: 'Waiting',
  mixing: 'Measuring the mix',
  rendering: 'Rendering',
  reading: 'Measuring the file',
  hashing: 'Checksum',
  saving: 'Saving',
  done: '',
  failed: 'Failed',
  cancelled: 'Cancelled',
};

/** What became of a file, in a mark and a few words. */
function Outcome({ line, stale }: { line: FileLine; stale: string | null }) {
  const { state, failure } = line;
  const result = line.result ?? line.measured;
  if (state === 'failed' || state === 'cancelled')
    return (
      <Box data-outcome={state} sx={{ color: state === 'failed' ? 'level.over' : 'text.secondary' }}>
        {failure ? failure.message : PHASE_WORDS[state]}
      </Box>
    );
  if (!result) return null;
  const { verdict, figures, wrong, codecOver } = result;
  const loudness = `${withUnit(figures.integratedLufs, 'LUFS')}, ${withUnit(figures.truePeakDbtp, 'dBTP')}`;
  const troubled = wrong.length > 0 || codecOver !== null;
  const words = stale ? 'Stale' : verdict === null ? 'Measured' : OUTCOME_WORDS[verdict.outcome];
  const standing = stale || verdict?.meets == null ? 'unknown' : verdict.meets ? 'within' : 'over';
  return (
    <Box
      {...{
        // Its checksum is still to come.
        [line.result ? 'data-outcome' : 'data-measured']: stale ? 'stale' : (verdict?.outcome ?? 'measured'),
      }}
      sx={{
        ...{ display: 'grid', gridTemplateColumns: '14px minmax(76px, auto) 1fr', alignItems: 'center' },
        whiteSpace: 'nowrap',
      }}
    >
      <LevelMark standing={standing} />
      <b>{words}</b>
      <Box
        component="span"
        sx={{ color: troubled ? 'text.primary' : 'text.secondary', fontWeight: troubled ? 600 : 450 }}
      >
        {troubled ? `${loudness}; see why` : loudness}
      </Box>
    </Box>
  );
}

/** How far a file is on its way: the one thing that moves many times a second. */
function Far({ line: { file, state } }: { line: FileLine }) {
  const { handover } = useSession();
  const done = useStore(handover.store, (now) => Math.round((now.done.get(file.key) ?? 0) * 100));
  return (
    <Box sx={{ display: 'flex', alignItems: 'center', gap: 1 }}>
      <Box role="status" sx={{ whiteSpace: 'nowrap', width: 166 }}>
        {PHASE_WORDS[state]}
        {state === 'waiting' ? '' : ` ${done} %`}
      </Box>
      <LinearProgress
        variant="determinate"
        value={done}
        aria-label={`${file.name}: ${PHASE_WORDS[state]}`}
        sx={{ flex: 1 }}
      />
    </Box>
  );
}

/** A file of a delivery: its name, and how far it is or what became of it. */
export function FileRow({
  file,
  line,
  stale,
  selected,
  onSelect,
}: {
  file: DeliveryFile;
  line: FileLine | null;
  /** Why it is no longer what would be delivered. */
  stale: string | null;
  selected: boolean;
  onSelect: () => void;
}) {
  const session = useSession();
  const { key, name } = file;
  const result = line?.result ?? null;
  const running = useStore(session.handover.store, (state) => state.running);
  return (
    <Box
      role="listitem"
      data-file={name}
      sx={{
        ...{ display: 'grid', gridTemplateColumns: 'minmax(150px, 1fr) 262px 84px', alignItems: 'center' },
        ...{ columnGap: 1.5, minHeight: 30, pl: 4.5, pr: 1, fontSize: 12.5 },
        bgcolor: selected ? 'action.selected' : undefined,
      }}
    >
      <ButtonBase
        onClick={onSelect}
        disabled={!result}
        aria-pressed={selected}
        sx={{
          ...{
            justifyContent: 'flex-start',
            fontFamily: 'inherit',
            fontSize: 12.5,
            textAlign: 'left',
            py: 0.5,
          },
          overflowWrap: 'anywhere',
        }}
      >
        {result?.name ?? name}
      </ButtonBase>
      {line && isOnItsWay(line) ? (
        <Box>
          {line.measured && <Outcome line={line} stale={stale} />}
          <Far line={line} />
        </Box>
      ) : line ? (
        <Outcome line={line} stale={stale} />
      ) : (
        <Box />
      )}
      <Box sx={{ textAlign: 'right' }}>
        {line && isOnItsWay(line) ? (
          <Button
            color="inherit"
            size="small"
            aria-label={`Cancel ${name}`}
            onClick={() => session.handover.cancelFile(key)}
          >
            Cancel
          </Button>
        ) : result?.blob ? (
          <Button
            size="small"
            startIcon={<SaveIcon />}
            aria-label={`${result.wrong.length > 0 ? 'Save anyway' : 'Save file'}: ${result.name}`}
            onClick={() => saveRendered(session, key)}
          >
            Save
          </Button>
        ) : line && (line.state === 'failed' || line.state === 'cancelled') ? (
          <Button
            size="small"
            aria-label={`Try again: ${name}`}
            disabled={running}
            onClick={() => void renderAgain(session, file)}
          >
            Try again
          </Button>
        ) : result?.savedAs ? (
          <Box sx={{ color: 'text.secondary' }}>Saved</Box>
        ) : result ? (
          // Rendered on an earlier visit and never saved.
          <Box sx={{ color: 'text.secondary' }}>Not saved</Box>
        ) : null}
      </Box>
    </Box>
  );
}
