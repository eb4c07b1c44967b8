'use client';

import Box from '@mui/material/Box';
import { useCallback, useRef } from 'react';
import { lufsToMeanSquare, meanSquareToLufs } from '@/core/loudness/decibels';
import { peakAt, windowAt } from '@/core/measuring/trackLevels';
import { figure } from '@/core/text/figures';
import { useProject, useSessionState } from '../../session/SessionContext';
import { useViewSettings } from '../viewSettings';
import { BAR_STYLE, meterBar, placeBar } from './meterBar';
import { PeakHold } from './PeakHold';
import { holdPeak, WHOLE } from './peakHolds';
import { usePlayhead } from '../usePlayhead';

const BARS = [
  ['momentary', 'M', 'Momentary loudness: over the last 400 ms, LUFS'],
  ['shortTerm', 'S', 'Short-term loudness: over the last 3 s, LUFS'],
  ['integrated', 'I', 'Integrated loudness of the whole programme, LUFS'],
] as const;

/**
 * The programme at the playhead: momentary, short-term and integrated loudness as bars from the horizon, from what is
 * measured of it, and the highest true peak heard.
 */
export function ProgrammeMeter({ height }: { height: number }) {
  const { target, sampleRate } = useProject();
  const programme = useSessionState((state) => state.programme);
  const playing = useSessionState((state) => state.playing);
  const { meterDepth } = useViewSettings();
  const box = useRef<HTMLDivElement>(null);
  usePlayhead(
    box,
    useCallback(
      (element, frame) => {
        const seconds = frame / sampleRate;
        const now = {
          momentary: programme ? windowAt(programme.blocks, 0.4, seconds) : 0,
          shortTerm: programme ? windowAt(programme.shortTerm, 3, seconds) : 0,
          integrated:
            programme?.figures.integratedLufs == null
              ? 0
              : lufsToMeanSquare(programme.figures.integratedLufs),
        };
        for (const [key] of BARS) {
          const bar = element.querySelector<HTMLElement>(`[data-bar=${key}]`);
          const text = element.querySelector(`[data-value=${key}]`);
          if (bar) placeBar(bar, now[key], target.integratedLufs, target.toleranceLu, meterDepth);
          if (text) text.textContent = figure(meanSquareToLufs(now[key]));
        }
        if (programme && playing) holdPeak(WHOLE, peakAt(programme.truePeaks, seconds));
      },
      [programme, playing, sampleRate, target, meterDepth],
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
          At the playhead
        </Box>
        <PeakHold of={WHOLE} name="the programme" ceilingDbtp={target.maxTruePeakDbtp} />
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
