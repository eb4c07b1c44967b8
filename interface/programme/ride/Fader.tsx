'use client';

import Box from '@mui/material/Box';
import { useRef, type KeyboardEvent } from 'react';
import { useStore } from 'zustand';
import { signed } from '@/core/text/figures';
import { useGesture } from '../../editing/useGesture';
import { FADER } from '../../session/riding';
import { useSession } from '../../session/SessionContext';

const HEIGHT = 168;
const TICKS = [12, 6, 0, -6, -12, -18, -24] as const;
const yOf = (db: number): number => ((FADER.max - db) / (FADER.max - FADER.min)) * HEIGHT;

/** How far one goes with a key, dB, and with the pointer, dB a pixel; finer with Shift. */
const KEY_DB = { coarse: 0.5, fine: 0.1 } as const;
const DRAG_DB = { coarse: 0.2, fine: 0.04 } as const;

/** A fader that moves from where it stands, wherever it is taken; let go, the hand is off. */
export function Fader({ label }: { label: string }) {
  const session = useSession();
  const { riding } = session;
  const faderDb = useStore(riding.store, (state) => state.faderDb);
  const last = useRef(0);
  const held = useRef(false);
  const drag = useGesture((event) => {
    last.current = event.clientY;
    riding.touch();
    return {
      move(moved) {
        const step = moved.shiftKey ? DRAG_DB.fine : DRAG_DB.coarse;
        riding.move(riding.store.getState().faderDb + (last.current - moved.clientY) * step);
        last.current = moved.clientY;
      },
      finish: () => riding.letGo(),
      cancel: () => riding.letGo(),
    };
  });
  const onKey = (event: KeyboardEvent): void => {
    const step = event.shiftKey ? KEY_DB.fine : KEY_DB.coarse;
    const by = { ArrowUp: step, ArrowDown: -step, PageUp: 3, PageDown: -3 }[event.key];
    if (by === undefined && event.key !== 'Home') return;
    event.preventDefault();
    event.stopPropagation();
    held.current = true;
    riding.move(by === undefined ? 0 : riding.store.getState().faderDb + by);
  };
  return (
    <Box sx={{ display: 'flex', gap: 0.75, userSelect: 'none' }}>
      <Box
        role="slider"
        tabIndex={0}
        aria-label={label}
        aria-orientation="vertical"
        aria-valuemin={FADER.min}
        aria-valuemax={FADER.max}
        aria-valuenow={Math.round(faderDb * 10) / 10}
        aria-valuetext={`${signed(faderDb)} dB`}
        {...drag()}
        onKeyDown={onKey}
        onKeyUp={() => {
          if (!held.current) return;
          held.current = false;
          riding.letGo();
        }}
        onBlur={() => held.current && riding.letGo()}
        sx={{
          position: 'relative',
          width: 56,
          height: HEIGHT,
          touchAction: 'none',
          cursor: 'ns-resize',
          bgcolor: 'action.hover',
          border: 1,
          borderColor: 'divider',
          '&:focus-visible': { outline: '2px solid', outlineColor: 'primary.main', outlineOffset: 2 },
        }}
      >
        {TICKS.map((db) => (
          <Box
            key={db}
            sx={{
              position: 'absolute',
              left: 0,
              width: db === 0 ? '100%' : 10,
              borderTop: 1,
              borderColor: 'text.secondary',
              borderStyle: db === 0 ? 'dashed' : 'solid',
            }}
            style={{ top: yOf(db) }}
          />
        ))}
        <Box
          sx={{ position: 'absolute', left: 6, right: 6, height: 5, mt: '-2.5px', bgcolor: 'text.primary' }}
          style={{ top: yOf(faderDb) }}
        />
      </Box>
      <Box sx={{ position: 'relative', width: 40, height: HEIGHT, fontSize: 10.5, color: 'text.secondary' }}>
        {TICKS.map((db) => (
          <Box key={db} sx={{ position: 'absolute', lineHeight: 1, mt: '-5px' }} style={{ top: yOf(db) }}>
            {db === 0 ? '0 dB' : signed(db, 0)}
          </Box>
        ))}
      </Box>
    </Box>
  );
}
