'use client';

import HearIcon from '@mui/icons-material/HearingOutlined';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import ToggleButton from '@mui/material/ToggleButton';
import Typography from '@mui/material/Typography';
import { useEffect, useMemo, useState } from 'react';
import { FINDING_NAMES } from '@/core/check/findings/finding';
import type { Project } from '@/core/programme/model';
import { withFix } from '@/core/proposals/fixes/fix';
import type { MendedAll } from '@/core/proposals/fixes/mendAll';
import { count } from '@/core/text/words';
import { BottomSheet } from '../programme/proposal/BottomSheet';
import { useSession } from '../session/SessionContext';

/** All that breaks a limit mended together: every change, in its order, and what is left; one step. */
export function MendAllSheet({
  project,
  mended: { fixes, left },
}: {
  project: Project;
  mended: Pick<MendedAll, 'fixes' | 'left'>;
}) {
  const session = useSession();
  const [previewing, setPreviewing] = useState(false);
  const proposed = useMemo(
    () => fixes.reduce((state, { change }) => withFix(state, change), project),
    [fixes, project],
  );
  useEffect(() => {
    if (!previewing) return;
    session.setPreview(proposed);
    return () => session.setPreview(null);
  }, [session, previewing, proposed]);
  const close = (): void => session.checking.dismiss();
  const apply = (): void => {
    setPreviewing(false);
    session.do(`Mend all: ${count(fixes.length, 'change')}`, (current) =>
      fixes.reduce((state, { change }) => withFix(state, change), current),
    );
  };
  return (
    <BottomSheet
      label="Mend all that breaks a limit"
      onClose={close}
      top={
        <>
          <Typography variant="h2" sx={{ lineHeight: '36px', mr: 0.5 }}>
            Mend all
          </Typography>
          <Box sx={{ lineHeight: '36px', fontSize: 12.5, color: 'text.secondary' }}>
            {fixes.length === 0
              ? 'No single change was found.'
              : left.length === 0
                ? `With ${count(fixes.length, 'change')} the programme meets its target; nothing else is moved.`
                : `After ${count(fixes.length, 'change')} ${count(left.length, 'finding still breaks', 'findings still break')} a limit.`}
          </Box>
        </>
      }
      actions={
        <>
          <ToggleButton
            value="preview"
            size="small"
            selected={previewing}
            disabled={fixes.length === 0}
            onChange={() => setPreviewing(!previewing)}
            sx={{ textTransform: 'none', height: 36, gap: 0.5 }}
          >
            <HearIcon fontSize="small" /> Preview
          </ToggleButton>
          <Button variant="contained" disabled={fixes.length === 0} onClick={apply} sx={{ height: 36 }}>
            {fixes.length === 0 ? 'Apply' : `Apply ${count(fixes.length, 'change')}`}
          </Button>
        </>
      }
    >
      <Box
        component="ol"
        tabIndex={0}
        aria-label="Changes"
        sx={{ m: 0, px: 4, pb: 1.5, overflow: 'auto', flex: 1, fontSize: 13, lineHeight: '20px' }}
      >
        {fixes.map((fix, i) => (
          <li key={i} data-change={fix.change.kind}>
            {fix.sentence}
          </li>
        ))}
        {left.map((finding) => (
          <Box component="li" key={finding.id} sx={{ listStyle: 'none', color: 'warning.main' }} data-left>
            Left: {FINDING_NAMES[finding.kind]}. {finding.sentence}
          </Box>
        ))}
      </Box>
    </BottomSheet>
  );
}
