'use client';

import Box from '@mui/material/Box';
import { useCallback, useRef } from 'react';
import { meanSquareToLufs } from '@/core/loudness/decibels';
import { figure } from '@/core/text/figures';
import { useProject, useSessionState } from '../../session/SessionContext';
import { useViewSettings } from '../viewSettings';
import { BAR_STYLE, meterBar, placeBar } from './meterBar';
import { PeakHold } from './PeakHold';
import { holdPeaks, WHOLE } from './peakHolds';
import { useHeard } from './useHeard';
import { usePlayhead } from '../usePlayhead';

const BARS = [
  ['momentary', 'M', 'Momentary loudness: over the last 400 ms, LUFS'],
  ['shortTerm', 'S', 'Short-term loudness: over the last 3 s, LUFS'],
  ['integrated', 'I', 'Integrated loudness of the whole programme, LUFS'],
] as const;

/**
 * The programme at the playhead: momentary, short-term and integrated loudness as bars from the horizon, of
 * what is heard (soloed, or compared), and the highest peaks heard.
 */
export function ProgrammeMeter({ height }: { height: number }) {
  const { id, target } = useProject();
  const playing = useSessionState((state) => state.playing);
  const { meterDepth } = useViewSettings();
  const heard = useHeard();
  const box = useRef<HTMLDivElement>(null);
  usePlayhead(
    box,
    useCallback(
      (element, frame) => {
        const now = heard.at(frame);
        for (const [key] of BARS) {
          const bar = element.querySelector<HTMLElement>(`[data-bar=${key}]`);
          const text = element.querySelector(`[data-value=${key}]`);
          const level = now[key] ?? 0;
          if (bar) placeBar(bar, level, target.integratedLufs, target.toleranceLu, meterDepth);
          if (text) text.textContent = figure(meanSquareToLufs(level));
        }
        if (playing) holdPeaks(`${id} ${WHOLE}`, now);
      },
      [heard, playing, target, meterDepth, id],
    ),
  );
  return (
    <Box
      ref={box}
      role="group"
      aria-label="The programme at the playhead"
      sx={{ width: 168, flex: 'none', display: 'flex', flexDirection: 'column', alignItems: 'stretch' }}
    >
      <Box sx={{ display: 'flex', fontSize: 11, lineHeight: '16px', color: 'text.secondary' }}>
        <Box component="span" sx={{ flex: 1 }}>
          At the playhead{heard.told === null ? '' : `, ${heard.told}`}
        </Box>
        <PeakHold of={`${id} ${WHOLE}`} name="the programme" ceilingDbtp={target.maxTruePeakDbtp} />
      </Box>
      <Box sx={{ display: 'flex', gap: 0.5 }} style={{ height }}>
        {BARS.map(([key, label, name]) => (
          <Box
            key={key}
            title={name}
            sx={{ flex: 1, display: 'flex', flexDirection: 'column', textAlign: 'center', fontSize: 11 }}
          >
            <Box aria-hidden sx={{ position: 'relative', flex: 1, bgcolor: 'sheet.lane' }}>
              <Box data-bar={key} sx={BAR_STYLE} />
              <Box
                sx={{
                  position: 'absolute',
                  left: 0,
                  right: 0,
                  borderTop: '1px dashed',
                  borderColor: 'sheet.horizon',
                }}
                style={{ top: `${meterBar(0, meterDepth).top * 100}%` }}
              />
            </Box>
            <Box data-value={key} sx={{ fontWeight: 600, lineHeight: '15px' }}>
              —
            </Box>
            <Box sx={{ color: 'text.secondary', lineHeight: '12px', fontSize: 10.5 }}>
              <abbr title={name} style={{ textDecoration: 'none' }}>
                {label}
              </abbr>
            </Box>
          </Box>
        ))}
      </Box>
    </Box>
  );
}
