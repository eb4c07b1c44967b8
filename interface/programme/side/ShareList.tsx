'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import Typography from '@mui/material/Typography';
import { useMemo } from 'react';
import { clipPart } from '@/core/measuring/parts';
import type { Id } from '@/core/programme/model';
import { figure } from '@/core/text/figures';
import { ROLE_NAMES } from '../../ui/words';
import { useProject, useSession, useSessionState } from '../../session/SessionContext';

/** Clips listed. */
const MOST_CLIPS = 8;

interface Entry {
  readonly key: string;
  readonly name: string;
  readonly share: number;
  readonly clipIds: readonly Id[];
}

function Rows({ title, entries }: { title: string; entries: readonly Entry[] }) {
  const session = useSession();
  return (
    <Box role="group" aria-label={`Shares by ${title.toLowerCase()}`}>
      <Box sx={{ fontSize: 11, color: 'text.secondary', mt: 1 }}>{title}</Box>
      {entries.map(({ key, name, share, clipIds }) => (
        <Box
          key={key}
          component="button"
          type="button"
          data-share={share}
          title={`Select ${name}`}
          onClick={() => session.select(clipIds)}
          sx={{
            display: 'grid',
            gridTemplateColumns: '1fr 72px 52px',
            gap: 1,
            alignItems: 'center',
            width: '100%',
            border: 0,
            p: 0,
            py: 0.25,
            bgcolor: 'transparent',
            color: 'inherit',
            font: 'inherit',
            fontSize: 12.5,
            textAlign: 'left',
            cursor: 'pointer',
            '&:hover': { bgcolor: 'action.hover' },
          }}
        >
          <Box component="span" sx={{ overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}>
            {name}
          </Box>
          <Box component="span" aria-hidden sx={{ height: 8, bgcolor: 'sheet.band', borderRadius: 0.5 }}>
            <Box
              sx={{ height: 8, bgcolor: 'text.secondary', borderRadius: 0.5 }}
              style={{ width: `${Math.max(0, Math.min(1, share)) * 100}%` }}
            />
          </Box>
          <Box component="span" sx={{ textAlign: 'right' }}>
            {figure(share * 100)} %
          </Box>
        </Box>
      ))}
    </Box>
  );
}

/** Which roles, tracks and clips make the programme as loud as it is. */
export function ShareList() {
  const session = useSession();
  const project = useProject();
  const shares = useSessionState((state) => state.shares);
  const sharing = useSessionState((state) => state.sharing);
  const measuring = useSessionState((state) => state.measuring !== null || state.moved !== null);
  const lists = useMemo(() => {
    if (!shares) return null;
    const sums = new Map<string, { name: string; share: number; clipIds: Id[] }>();
    const add = (key: string, name: string, clipId: Id, share: number): void => {
      const entry = sums.get(key) ?? { name, share: 0, clipIds: [] };
      entry.share += share;
      entry.clipIds.push(clipId);
      sums.set(key, entry);
    };
    const tracks = new Map(project.tracks.map((track) => [track.id, track]));
    for (const clip of project.clips) {
      const share = shares.parts.get(clipPart(clip.id))?.share;
      const track = tracks.get(clip.trackId);
      if (share === undefined || !track) continue;
      add(`role ${track.role}`, ROLE_NAMES[track.role], clip.id, share);
      add(`track ${track.id}`, track.name, clip.id, share);
      add(`clip ${clip.id}`, clip.name, clip.id, share);
    }
    const of = (kind: string): Entry[] =>
      [...sums]
        .filter(([key]) => key.startsWith(kind))
        .map(([key, entry]) => ({ key, ...entry }))
        .sort((a, b) => b.share - a.share);
    return { roles: of('role '), tracks: of('track '), clips: of('clip ').slice(0, MOST_CLIPS) };
  }, [shares, project]);
  return (
    <Box component="section" aria-label="What makes it loud" sx={{ mb: 2.5 }}>
      <Typography variant="h2">What makes it loud</Typography>
      {lists ? (
        lists.roles.length > 0 ? (
          <>
            <Box sx={{ fontSize: 12, color: 'text.secondary' }}>
              Shares of the gated energy behind the integrated loudness; together 100 %.
            </Box>
            <Rows title="Role" entries={lists.roles} />
            <Rows title="Track" entries={lists.tracks} />
            <Rows title="Loudest clips" entries={lists.clips} />
          </>
        ) : (
          <Box sx={{ fontSize: 12, color: 'text.secondary' }}>Nothing is above the gates.</Box>
        )
      ) : sharing !== null ? (
        <LinearProgress
          variant="determinate"
          value={sharing * 100}
          aria-label="Calculating shares"
          sx={{ mt: 1 }}
        />
      ) : (
        <>
          <Box sx={{ fontSize: 12, color: 'text.secondary', mb: 0.5 }}>
            How much each role, track and clip brings to the integrated loudness.
          </Box>
          <Button
            variant="outlined"
            disabled={measuring || project.clips.length === 0}
            onClick={() => void session.measurer.findShares()}
          >
            Calculate shares
          </Button>
        </>
      )}
    </Box>
  );
}
