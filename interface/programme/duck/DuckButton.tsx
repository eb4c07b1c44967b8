'use client';

import Button from '@mui/material/Button';
import { useMemo } from 'react';
import { spokenClips } from '@/core/programme/dialogue';
import type { Clip } from '@/core/programme/model';
import { useProject, useSession } from '../../session/SessionContext';

/** Opens the sheet that has these clips step aside under speech; not there for what speaks itself. */
export function DuckButton({ clips }: { clips: readonly Clip[] }) {
  const session = useSession();
  const project = useProject();
  const speaks = useMemo(() => {
    const speaking = new Set(spokenClips(project).map(({ id }) => id));
    return clips.every(({ id }) => speaking.has(id));
  }, [project, clips]);
  if (speaks) return null;
  return (
    <Button variant="outlined" onClick={() => session.stage?.duck()}>
      Duck…
    </Button>
  );
}
