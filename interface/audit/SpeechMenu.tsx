'use client';

import ClearIcon from '@mui/icons-material/Close';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import Popover from '@mui/material/Popover';
import { useState } from 'react';
import type { TimeRange } from '@/core/loudness/levelTrack';
import { clock, figure } from '@/core/text/figures';
import { parseTime } from '@/core/text/timeEntry';
import { count } from '@/core/text/words';
import { TypedCell } from '../editing/TypedCell';
import type { Audit } from './audit';
import type { AuditFile } from './auditFile';

/** So many ranges are listed. */
const MOST_ROWS = 100;
/** Length of a range that is added, seconds. */
const ADDED_SECONDS = 2;

/** When somebody speaks in a file: found, shown, and corrected by hand. */
export function SpeechMenu({
  audit,
  entry,
  now,
  onGo,
}: {
  audit: Audit;
  entry: AuditFile;
  /** Where the playhead is, seconds. */
  now: number;
  onGo: (seconds: number) => void;
}) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const { speech, checked, id } = entry;
  const seconds = checked?.judged.form?.seconds ?? 0;
  const ranges = speech?.ranges ?? [];
  const total = ranges.reduce((sum, { from, to }) => sum + to - from, 0);
  const set = (index: number, next: TimeRange | null): void =>
    audit.setSpeech(id, next ? ranges.with(index, next) : ranges.filter((_, i) => i !== index));
  const edge = (range: TimeRange, index: number, which: 'from' | 'to') => (
    <TypedCell
      label={`${which === 'from' ? 'Begin' : 'End'} of the speech at ${clock(range.from, 2)}`}
      shown={clock(range[which], 2)}
      take={(text) => {
        const typed = parseTime(text);
        if (!Number.isFinite(typed) || typed < 0 || typed > seconds)
          return `A place is a time from 0 to ${clock(seconds, 2)}`;
        const next = { ...range, [which]: typed };
        if (next.to <= next.from) return 'Speech ends after it begins';
        set(index, next);
        return null;
      }}
    />
  );
  return (
    <>
      <Button
        variant="outlined"
        color="inherit"
        aria-haspopup="dialog"
        disabled={!checked || entry.work !== null}
        onClick={(event) => setAnchor(event.currentTarget)}
        sx={{ borderColor: 'divider', whiteSpace: 'nowrap' }}
      >
        {speech ? `Speech: ${figure(seconds > 0 ? (100 * total) / seconds : 0, 0)} % of the time` : 'Speech…'}
      </Button>
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
        slotProps={{
          paper: { role: 'dialog', 'aria-label': 'Speech', sx: { width: 330, p: 1.5, fontSize: 12.5 } },
        }}
      >
        <Box sx={{ mb: 1 }}>
          {speech
            ? `${count(ranges.length, 'range')}, ${clock(total)} in total, ${speech.by === 'hand' ? 'as corrected by hand' : 'as the voice detector found them'}.`
            : 'Nothing says when somebody speaks in this file.'}
        </Box>
        <Box sx={{ display: 'flex', gap: 0.75, mb: 1 }}>
          <Button variant="outlined" onClick={() => audit.findSpeech(id)} disabled={entry.work !== null}>
            {speech ? 'Find again' : 'Find speech'}
          </Button>
          <Button
            variant="outlined"
            color="inherit"
            disabled={now >= seconds}
            onClick={() =>
              audit.setSpeech(id, [...ranges, { from: now, to: Math.min(seconds, now + ADDED_SECONDS) }])
            }
          >
            Speech at the playhead
          </Button>
          {speech && (
            <Button color="inherit" onClick={() => audit.setSpeech(id, null)}>
              Forget
            </Button>
          )}
        </Box>
        <Box
          sx={{ maxHeight: 320, overflow: 'auto' }}
          tabIndex={0}
          role="region"
          aria-label="Ranges of speech"
        >
          {ranges.slice(0, MOST_ROWS).map((range, index) => (
            <Box
              key={`${range.from} ${range.to}`}
              data-speech-range={index}
              sx={{
                ...{ display: 'grid', gridTemplateColumns: '1fr 14px 1fr 40px 24px', gap: 0.5 },
                ...{ alignItems: 'center', mb: 0.25 },
              }}
            >
              {edge(range, index, 'from')}
              <span>to</span>
              {edge(range, index, 'to')}
              <Button
                color="inherit"
                onClick={() => onGo(range.from)}
                sx={{ p: 0, minWidth: 0, fontSize: 12 }}
              >
                Hear
              </Button>
              <IconButton
                size="small"
                aria-label={`Nobody speaks at ${clock(range.from, 2)}`}
                onClick={() => set(index, null)}
                sx={{ p: 0.25 }}
              >
                <ClearIcon sx={{ fontSize: 15 }} />
              </IconButton>
            </Box>
          ))}
          {ranges.length > MOST_ROWS && (
            <Box sx={{ color: 'text.secondary' }}>
              and {count(ranges.length - MOST_ROWS, 'more range')}: open the file in a project to see them on
              lanes
            </Box>
          )}
        </Box>
      </Popover>
    </>
  );
}
