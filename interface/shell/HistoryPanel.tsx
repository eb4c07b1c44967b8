'use client';

import HearIcon from '@mui/icons-material/HearingOutlined';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import ToggleButton from '@mui/material/ToggleButton';
import Tooltip from '@mui/material/Tooltip';
import Typography from '@mui/material/Typography';
import HistoryIcon from '@mui/icons-material/History';
import { useMemo } from 'react';
import { useStore } from 'zustand';
import { HISTORY_LIMIT } from '@/core/programme/history';
import { useSession, useSessionState } from '../session/SessionContext';
import { SidePanel } from './SidePanel';

const TIME = new Intl.DateTimeFormat('en-GB', { dateStyle: 'short', timeStyle: 'medium' });

interface Row {
  /** How many steps were done then. */
  readonly steps: number;
  readonly name: string;
  readonly at: number | null;
}

/** Every step with its time, the latest first: back to any, or on again; any of them heard beside the present. */
function Steps() {
  const session = useSession();
  const history = useSessionState((state) => state.history);
  const { compared } = useStore(session.listening.comparison.store);
  const now = history.past.length;
  const rows = useMemo((): Row[] => {
    const steps = [...history.past, ...history.future];
    return [
      {
        steps: 0,
        name: steps.length < HISTORY_LIMIT ? 'Opened' : 'Before the oldest step',
        at: null,
      },
      ...steps.map(({ name, at }, i) => ({ steps: i + 1, name, at })),
    ].reverse();
  }, [history]);
  return (
    <Box component="ol" aria-label="Steps" sx={{ m: 0, p: 0, listStyle: 'none' }}>
      {rows.map(({ steps, name, at }) => (
        <Box
          component="li"
          key={steps}
          data-step-done={steps <= now}
          aria-current={steps === now ? 'step' : undefined}
          sx={{
            display: 'flex',
            alignItems: 'center',
            gap: 0.5,
            borderLeft: 3,
            borderColor: steps === now ? 'primary.main' : 'transparent',
          }}
        >
          <Button
            color="inherit"
            onClick={() => session.goToStep(steps)}
            sx={{
              flex: 1,
              minWidth: 0,
              justifyContent: 'space-between',
              gap: 1,
              textAlign: 'left',
              fontWeight: steps === now ? 650 : 450,
              color: steps > now ? 'text.secondary' : undefined,
            }}
          >
            <Box component="span" sx={{ overflow: 'hidden', textOverflow: 'ellipsis' }}>
              {steps > now ? `Undone: ${name}` : name}
              {steps === now ? ' (now)' : ''}
            </Box>
            {at !== null && (
              <Box component="time" sx={{ fontSize: 11, color: 'text.secondary', whiteSpace: 'nowrap' }}>
                {TIME.format(at)}
              </Box>
            )}
          </Button>
          <Tooltip
            title={
              compared === steps ? 'Hear the current state again' : 'Compare this state with the current one'
            }
          >
            <span>
              <ToggleButton
                value={steps}
                size="small"
                selected={compared === steps}
                disabled={steps === now}
                aria-label={`Compare with ${name}`}
                onChange={() => session.listening.comparison.choose(compared === steps ? null : steps)}
                sx={{ p: 0.5 }}
              >
                <HearIcon sx={{ fontSize: 16 }} />
              </ToggleButton>
            </span>
          </Tooltip>
        </Box>
      ))}
    </Box>
  );
}

/** The way to every step that was done. */
export const HistoryPanel = () => (
  <SidePanel
    panel="history"
    name="History"
    hint="History: every step"
    icon={<HistoryIcon fontSize="small" />}
    width={460}
  >
    <Typography variant="body2" sx={{ color: 'text.secondary' }}>
      Click a step to go back or forward to it. The ear button compares it with the current state.
    </Typography>
    <Steps />
  </SidePanel>
);
