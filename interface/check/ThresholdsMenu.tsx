'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Popover from '@mui/material/Popover';
import { useState } from 'react';
import { THRESHOLD_FIELDS } from '@/core/check/findings/thresholds';
import { setThreshold, thresholdsOf, type CheckedBy } from '@/core/programme/edits/check';
import { NumberField } from '../editing/NumberField';
import type { ChangeCheckedBy } from './TargetMatrix';

/** From where on something is worth a look: every threshold with its source. */
export function ThresholdsMenu({ by, change }: { by: CheckedBy; change: ChangeCheckedBy }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const values = thresholdsOf(by);
  const changed = Object.keys(by.thresholds).length;
  return (
    <>
      <Button
        variant="outlined"
        color="inherit"
        aria-haspopup="dialog"
        onClick={(event) => setAnchor(event.currentTarget)}
        sx={{ borderColor: 'divider' }}
      >
        Thresholds{changed > 0 ? ` (${changed} changed)` : ''}…
      </Button>
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'right' }}
        transformOrigin={{ vertical: 'top', horizontal: 'right' }}
        slotProps={{ paper: { role: 'dialog', 'aria-label': 'Thresholds', sx: { width: 460, p: 2 } } }}
      >
        <Box sx={{ fontSize: 12.5, mb: 1.5 }}>
          From where on something is worth a look. What breaks a limit goes by the target.
        </Box>
        <Box
          sx={{
            display: 'grid',
            gridTemplateColumns: '190px 1fr',
            columnGap: 1.5,
            rowGap: 1.25,
            alignItems: 'center',
          }}
        >
          {THRESHOLD_FIELDS.map(({ key, label, unit, min, max, usual, source }) => (
            <Box key={key} sx={{ display: 'contents' }}>
              <NumberField
                label={unit === '' ? label : `${label} (${unit})`}
                value={values[key]}
                width={190}
                range={{ name: label, min, max, unit }}
                onValue={(value) =>
                  change(`Threshold ${label.toLowerCase()}`, (current) => setThreshold(current, key, value))
                }
              />
              <Box sx={{ fontSize: 11, color: 'text.secondary' }}>
                {source}
                {values[key] !== usual && (
                  <Button
                    size="small"
                    onClick={() =>
                      change(`Threshold ${label.toLowerCase()} as usual`, (current) =>
                        setThreshold(current, key, null),
                      )
                    }
                    sx={{ p: 0, ml: 0.5, fontSize: 11 }}
                  >
                    As usual: {String(usual).replace('-', '−')}
                  </Button>
                )}
              </Box>
            </Box>
          ))}
        </Box>
      </Popover>
    </>
  );
}
