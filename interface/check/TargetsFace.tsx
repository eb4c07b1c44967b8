'use client';

import Box from '@mui/material/Box';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useMemo } from 'react';
import type { Judged } from '@/core/check/verdict';
import { addTarget, targetsOf } from '@/core/programme/edits/check';
import type { Project } from '@/core/programme/model';
import { hasLimiters } from '@/core/signal/asRecorded';
import { useLeftOut, useSession } from '../session/SessionContext';
import { TargetMenu } from '../targets/TargetMenu';
import { TargetMatrix } from './TargetMatrix';
import { useScope } from './useScope';

/** One mix, or a part of it, against every target in force. */
export function TargetsFace({ project, whole }: { project: Project; whole: Judged | null }) {
  const session = useSession();
  const { scopes, scope, select, judged, isWhole } = useScope(project, whole);
  const lost = useLeftOut();
  const targets = useMemo(() => targetsOf(project), [project]);
  return (
    <Box sx={{ flex: 1, minHeight: 0, display: 'flex', flexDirection: 'column' }}>
      <Box sx={{ display: 'flex', gap: 1.5, alignItems: 'center', px: 1.5, py: 1 }}>
        <TextField
          select
          label="Judged"
          value={scope.id}
          onChange={(event) => select(event.target.value)}
          sx={{ width: 220 }}
        >
          {scopes.map(({ id, name }) => (
            <MenuItem key={id} value={id} dense>
              {name}
            </MenuItem>
          ))}
        </TextField>
        <TargetMenu
          target={project.target}
          adding
          onChoose={(next) => session.do(`Add target ${next.name}`, (current) => addTarget(current, next))}
        />
        <Box sx={{ fontSize: 12, color: 'text.secondary' }}>
          {scope.clipIds && hasLimiters(project) && 'Roles and tracks are judged before limiters.'}
          {isWhole && 'The leading target is the one that all of the project is drawn against.'}
        </Box>
      </Box>
      {typeof judged === 'string' ? (
        <Box sx={{ px: 1.5, py: 1 }}>{judged}</Box>
      ) : judged === null ? (
        <Box sx={{ px: 1.5, py: 1, color: 'text.secondary' }} role="status">
          Being measured …
        </Box>
      ) : (
        <TargetMatrix
          targets={targets}
          judged={judged}
          leftOut={isWhole ? lost.clips.length : 0}
          whole={isWhole}
          change={(name, edit) => session.do(name, edit)}
        />
      )}
    </Box>
  );
}
