'use client';

import CloseIcon from '@mui/icons-material/Close';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import LinearProgress from '@mui/material/LinearProgress';
import { byteSize } from '@/core/text/figures';
import { count } from '@/core/text/words';
import { useSession, useSessionState } from '../session/SessionContext';
import type { ImportJob } from '../session/state';

const PHASES = { waiting: 'waiting', measuring: 'measuring', keeping: 'saving a copy' } as const;

function Job({ job }: { job: ImportJob }) {
  const session = useSession();
  const failed = job.phase === 'failed';
  return (
    <Box
      component="li"
      data-import={job.name}
      data-phase={job.phase}
      sx={{
        display: 'flex',
        alignItems: 'center',
        gap: 1.5,
        py: 0.25,
        fontSize: 13,
        color: failed ? 'error.main' : undefined,
      }}
    >
      <Box
        sx={{
          width: 260,
          overflow: 'hidden',
          textOverflow: 'ellipsis',
          whiteSpace: 'nowrap',
          fontWeight: 550,
        }}
        title={job.name}
      >
        {job.name}
      </Box>
      {job.phase === 'choosing' ? (
        <Box
          role="group"
          aria-label={`Which sound of ${job.name}`}
          sx={{ flex: 1, display: 'flex', alignItems: 'center', gap: 0.75, flexWrap: 'wrap' }}
        >
          {job.sounds.length} audio streams; import
          {job.sounds.map(({ index, label }) => (
            <Button key={index} variant="outlined" onClick={() => session.imports.choose(job.id, [index])}>
              {index + 1}: {label}
            </Button>
          ))}
          <Button
            variant="outlined"
            onClick={() =>
              session.imports.choose(
                job.id,
                job.sounds.map(({ index }) => index),
              )
            }
          >
            All of them
          </Button>
        </Box>
      ) : job.phase === 'differs' ? (
        <Box
          role="group"
          aria-label={`Whether ${job.name} is to stand for ${job.differs?.of}`}
          sx={{ flex: 1, display: 'flex', alignItems: 'center', gap: 0.75, flexWrap: 'wrap' }}
        >
          It is not the same as {job.differs?.of}: {job.differs?.differences.join('; ')}.
          <Button variant="outlined" onClick={() => session.imports.choose(job.id, [0])}>
            Use it anyway
          </Button>
          <Button color="inherit" onClick={() => session.imports.cancel(job.id)}>
            Leave it
          </Button>
        </Box>
      ) : failed ? (
        <Box sx={{ flex: 1 }}>
          {job.failure?.message}{' '}
          <Box component="span" sx={{ color: 'text.secondary' }}>
            {job.failure?.hint}
          </Box>
        </Box>
      ) : (
        <>
          <Box sx={{ width: 70, color: 'text.secondary' }}>{byteSize(job.bytes)}</Box>
          <Box sx={{ width: 110, color: 'text.secondary' }}>{PHASES[job.phase as keyof typeof PHASES]}</Box>
          <LinearProgress
            variant={job.phase === 'waiting' ? 'indeterminate' : 'determinate'}
            value={job.done * 100}
            aria-label={`Progress of ${job.name}`}
            sx={{ flex: 1 }}
          />
        </>
      )}
      {failed && (
        <Button
          size="small"
          aria-label={`Try again: ${job.name}`}
          onClick={() => session.imports.retry(job.id)}
        >
          Try again
        </Button>
      )}
      <IconButton
        size="small"
        aria-label={failed ? `Dismiss ${job.name}` : `Cancel ${job.name}`}
        onClick={() => (failed ? session.imports.dismiss(job.id) : session.imports.cancel(job.id))}
      >
        <CloseIcon fontSize="small" />
      </IconButton>
    </Box>
  );
}

/** Files on their way in, and those that could not come in with the reason. */
export function ImportList() {
  const session = useSession();
  const imports = useSessionState((state) => state.imports);
  if (imports.length === 0) return null;
  const failed = imports.filter((job) => job.phase === 'failed');
  const isAsked = ({ phase }: ImportJob): boolean => phase === 'choosing' || phase === 'differs';
  const choosing = imports.filter(isAsked);
  const running = imports.filter((job) => job.phase !== 'failed' && !isAsked(job));
  return (
    <Box
      component="section"
      aria-label="Files being imported"
      sx={{ px: 2, py: 0.75, borderBottom: 1, borderColor: 'divider', maxHeight: 190, overflow: 'auto' }}
    >
      <Box
        sx={{ display: 'flex', gap: 2, alignItems: 'center', fontSize: 12, color: 'text.secondary' }}
        role="status"
      >
        {choosing.length > 0 && <span>{count(choosing.length, 'file')} with a question</span>}
        {running.length > 0 && <span>{count(running.length, 'file')} importing</span>}
        {failed.length > 0 && <span>{count(failed.length, 'file')} could not be used</span>}
        {running.length > 1 && (
          <Button color="inherit" onClick={() => running.forEach((job) => session.imports.cancel(job.id))}>
            Cancel all
          </Button>
        )}
        {failed.length > 1 && (
          <Button color="inherit" onClick={() => failed.forEach((job) => session.imports.retry(job.id))}>
            Try all again
          </Button>
        )}
        {failed.length > 1 && (
          <Button color="inherit" onClick={() => failed.forEach((job) => session.imports.dismiss(job.id))}>
            Dismiss all
          </Button>
        )}
      </Box>
      <Box component="ul" sx={{ m: 0, p: 0, listStyle: 'none' }}>
        {[...choosing, ...failed, ...running].map((job) => (
          <Job key={job.id} job={job} />
        ))}
      </Box>
    </Box>
  );
}
