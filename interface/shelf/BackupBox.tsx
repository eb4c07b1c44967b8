import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import { useEffect, useSyncExternalStore } from 'react';
import { useStore } from 'zustand';
import { BACKUP_HOURS } from '@/storage/backups';
import {
  backUp,
  backups,
  beginBackups,
  changeBackups,
  KEPT_BACKUPS,
  stopBackups,
  watchBackups,
} from '../session/backups';
import { FailureNote } from '../ui/FailureNote';
import { OneOf } from '../ui/OneOf';
import { canSaveToFolder } from '../ui/saveMany';

const WHEN = new Intl.DateTimeFormat('en-GB', { dateStyle: 'medium', timeStyle: 'short' });
const HOURS = BACKUP_HOURS.map(String);

const never = () => () => undefined;

/** Backups of all projects into a folder: where to, how often, and how it stands. */
export function BackupBox() {
  const { plan, now, waits, failure } = useStore(backups);
  useEffect(() => watchBackups(), []);
  // Only the browser knows.
  const can = useSyncExternalStore(never, canSaveToFolder, () => false);
  if (!can) return null;
  return (
    <Box
      component="section"
      aria-label="Backups"
      sx={{ mt: 2, pt: 1.5, borderTop: 1, borderColor: 'divider', display: 'grid', gap: 1, fontSize: 13 }}
    >
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1.5, flexWrap: 'wrap' }}>
        <Box component="h2" sx={{ fontSize: 14, m: 0 }}>
          Backups
        </Box>
        {plan ? (
          <>
            <Box>into “{plan.folder.name}”, every</Box>
            <OneOf
              label="Backups every so many hours"
              of={HOURS}
              value={String(plan.everyHours)}
              words={(hours) => (hours === '1' ? 'hour' : `${hours} hours`)}
              onSelect={(hours) => void changeBackups({ everyHours: Number(hours) })}
            />
            <FormControlLabel
              control={
                <Checkbox
                  size="small"
                  checked={plan.withSound}
                  onChange={(_, withSound) => void changeBackups({ withSound })}
                />
              }
              label="with sound"
              disableTypography
            />
            <Button size="small" variant="outlined" disabled={now !== null} onClick={() => void backUp(true)}>
              {waits ? 'Allow and back up' : 'Back up now'}
            </Button>
            <Button size="small" color="inherit" onClick={() => void stopBackups()}>
              Stop backups
            </Button>
          </>
        ) : (
          <>
            <Box sx={{ color: 'text.secondary' }}>
              All projects that change, as files in a folder, while Dengung is open.
            </Box>
            <Button size="small" variant="outlined" onClick={() => void beginBackups()}>
              Back up to a folder…
            </Button>
          </>
        )}
      </Box>
      {plan && (
        <Box
          role="status"
          data-backups={now === null ? 'rest' : 'running'}
          sx={{ color: 'text.secondary', fontSize: 12.5 }}
        >
          {now !== null
            ? `Backing up ${now} …`
            : waits
              ? 'The browser asks anew whether the folder may be written to.'
              : plan.lastAt === 0
                ? 'Not done yet.'
                : `Last done ${WHEN.format(plan.lastAt)}.`}{' '}
          The last {KEPT_BACKUPS} files of each project stay.
        </Box>
      )}
      {failure && <FailureNote message={failure.message} hint={failure.hint} />}
    </Box>
  );
}
