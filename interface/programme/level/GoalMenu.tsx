'use client';

import MoreIcon from '@mui/icons-material/ArrowDropDown';
import IconButton from '@mui/material/IconButton';
import ListItemText from '@mui/material/ListItemText';
import ListSubheader from '@mui/material/ListSubheader';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { useState } from 'react';
import type { MeasuredClip } from '@/core/proposals/proposal';
import { readAt, UNIT } from '@/core/measuring/clipReading';
import { usualGoal } from '@/core/proposals/usualGoal';
import type { LevelMeasure } from '@/core/programme/model';
import type { Target } from '@/core/check/target';
import { withUnit } from '@/core/text/figures';

/** As many clips are offered as a model. */
const MOST_CLIPS = 40;

interface Props {
  readonly entries: readonly MeasuredClip[];
  readonly measure: LevelMeasure;
  readonly target: Target;
  readonly ceilingDbtp: number;
  readonly onGoal: (measure: LevelMeasure, value: number) => void;
}

/** Goals that need not be typed: the target's, the largest gain under the ceiling, as loud as a clip. */
export function GoalMenu({ entries, measure, target, ceilingDbtp, onGoal }: Props) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const choose = (of: LevelMeasure, value: number): void => {
    setAnchor(null);
    onGoal(of, value);
  };
  const models = anchor
    ? entries.slice(0, MOST_CLIPS).flatMap(({ clip, measurement }) => {
        const value = measurement && readAt(measurement, measure, clip.gain.db);
        return value === null ? [] : [{ clip, value }];
      })
    : [];
  return (
    <>
      <IconButton
        size="small"
        aria-label="Suggested target levels"
        aria-haspopup="menu"
        onClick={(event) => setAnchor(event.currentTarget)}
        sx={{ mt: 0.5 }}
      >
        <MoreIcon fontSize="small" />
      </IconButton>
      <Menu
        anchorEl={anchor}
        open={anchor !== null}
        onClose={() => setAnchor(null)}
        slotProps={{ list: { dense: true } }}
      >
        <MenuItem onClick={() => choose(measure, usualGoal(measure, target))}>
          The target: {withUnit(usualGoal(measure, target), UNIT[measure])}
        </MenuItem>
        <MenuItem onClick={() => choose('truePeak', ceilingDbtp)}>
          <ListItemText
            primary="The largest gain under the ceiling"
            secondary={`True peak to ${withUnit(ceilingDbtp, 'dBTP')}`}
          />
        </MenuItem>
        {models.length > 0 && <ListSubheader sx={{ lineHeight: 2.2 }}>As loud as</ListSubheader>}
        {models.map(({ clip, value }) => (
          <MenuItem key={clip.id} onClick={() => choose(measure, value)}>
            {clip.name}: {withUnit(value, UNIT[measure])}
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}
