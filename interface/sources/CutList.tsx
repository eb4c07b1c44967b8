'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useMemo } from 'react';
import { FRAME_RATES } from '@/core/text/timecode';
import type { Cut } from '@/core/timeline/cut';
import { relinkCandidates } from '@/core/timeline/relink';
import type { Source } from '@/core/programme/model';
import { placeCut, type MissingMedia } from '@/core/timeline/toProject';
import { FailureNote } from '../ui/FailureNote';
import { count } from '@/core/text/words';
import { sourcesFor } from '../session/cuts';
import { useProject, useSession, useSessionState } from '../session/SessionContext';
import { ComparedCut } from './ComparedCut';
import type { PendingCut } from '../session/state';

/** Missing media and warnings named in full; of more only how many. */
const MOST_NAMED = 8;

function named(texts: readonly string[]): string {
  const more = texts.length - MOST_NAMED;
  return [...texts.slice(0, MOST_NAMED), ...(more > 0 ? [`${more} more`] : [])].join(', ');
}

const NONE: readonly Source[] = [];

/** Chooses a source for a medium that was not found for sure: among those that hold all that is used of it. */
function Relink({
  pending,
  cut,
  media,
  among,
}: {
  pending: PendingCut;
  cut: Cut;
  media: MissingMedia;
  /** Sources that its name fits equally well; none when it fits none. */
  among: readonly Source[];
}) {
  const session = useSession();
  const { sources } = useProject();
  const candidates = useMemo(
    () =>
      relinkCandidates(cut, media.key, sources).filter(
        ({ source }) => among.length === 0 || among.includes(source),
      ),
    [cut, media, among, sources],
  );
  if (candidates.length === 0) return null;
  return (
    <TextField
      select
      size="small"
      label={among.length > 0 ? `Which ${media.name}?` : `Instead of ${media.name}`}
      value=""
      onChange={(event) => session.cuts.relink(pending.id, media.key, event.target.value)}
      sx={{ width: 240 }}
    >
      {candidates.map(({ source, sameLength }) => (
        <MenuItem key={source.id} value={source.id} dense>
          {[source.folder, source.name].filter(Boolean).join('/')}
          {sameLength && ' (same length)'}
        </MenuItem>
      ))}
    </TextField>
  );
}

function CutCard({ pending }: { pending: PendingCut }) {
  const session = useSession();
  const project = useProject();
  const { id, name, cut, failure, frameRateId, links } = pending;
  const matched = useMemo(() => cut && sourcesFor({ cut, links }, project.sources), [cut, links, project]);
  const placed = useMemo(() => {
    if (!cut || !matched) return null;
    let made = 0;
    return placeCut(project, cut, matched.found, () => `preview ${made++}`);
  }, [cut, matched, project]);
  const unsure = placed?.missing.filter(({ key }) => matched?.unsure.has(key)) ?? [];
  const imports = useSessionState((state) => state.imports);
  const coming = useMemo(
    () => new Set(imports.flatMap((job) => (job.phase === 'failed' ? [] : [job.name.toLowerCase()]))),
    [imports],
  );
  const isComing = (of: string): boolean => coming.has(of.split(/[\\/]/).at(-1)!.toLowerCase());
  const absent = placed?.missing.filter(({ key }) => !matched?.unsure.has(key)) ?? [];
  const lost = absent.filter((one) => !isComing(one.name));
  const onTheWay = absent.length - lost.length;
  const clips = cut?.tracks.reduce((sum, track) => sum + track.clips.length, 0) ?? 0;
  const found = placed ? placed.project.clips.length - project.clips.length : 0;
  return (
    <Box data-cut={name} sx={{ py: 0.75, fontSize: 13 }}>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1.5, flexWrap: 'wrap' }}>
        <Box sx={{ fontWeight: 600 }}>{name}</Box>
        {cut && (
          <Box>
            {count(clips, 'clip')} on {count(cut.tracks.length, 'track')}
          </Box>
        )}
        {!cut && !failure && <Box role="status">Reading …</Box>}
        {/\.edl$/i.test(name) && (
          <TextField
            select
            label="Frame rate"
            size="small"
            value={frameRateId}
            onChange={(event) => session.cuts.setFrameRate(id, event.target.value)}
            sx={{ width: 150 }}
          >
            {FRAME_RATES.map((rate) => (
              <MenuItem key={rate.id} value={rate.id} dense>
                {rate.name}
              </MenuItem>
            ))}
          </TextField>
        )}
        <Button
          variant={project.clips.length > 0 ? 'outlined' : 'contained'}
          disabled={found === 0}
          onClick={() => session.cuts.place(pending)}
          sx={{ ml: 'auto' }}
        >
          Place {found === clips ? count(clips, 'clip') : `${found} of ${count(clips, 'clip')}`}
        </Button>
        <Button color="inherit" onClick={() => session.cuts.dismiss(id)}>
          Discard
        </Button>
      </Box>
      {failure && <FailureNote message={failure.message} hint={failure.hint} />}
      {onTheWay > 0 && (
        <Box role="status" data-on-the-way sx={{ color: 'text.secondary', mt: 0.5 }}>
          {count(onTheWay, 'file')} of it {onTheWay === 1 ? 'is' : 'are'} being imported.
        </Box>
      )}
      {lost.length > 0 && (
        <Box data-missing sx={{ color: 'warning.main', mt: 0.5 }}>
          {count(lost.length, 'file')} missing: {named(lost.map(({ name }) => name))}. Add{' '}
          {lost.length === 1 ? 'it; it is' : 'them; they are'} found by name. Or say which source stands for{' '}
          {lost.length === 1 ? 'it' : 'each'}.
        </Box>
      )}
      {unsure.length > 0 && (
        <Box data-unsure sx={{ color: 'warning.main', mt: 0.5 }}>
          Several sources could be {named(unsure.map(({ name }) => name))}. Say which{' '}
          {unsure.length === 1 ? 'it is' : 'each is'}.
        </Box>
      )}
      <ComparedCut pending={pending} />
      {cut && placed && (
        <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1, mt: placed.missing.length > 0 ? 1 : 0 }}>
          {placed.missing.slice(0, MOST_NAMED).map((media) => (
            <Relink
              key={media.key}
              pending={pending}
              cut={cut}
              media={media}
              among={matched?.unsure.get(media.key) ?? NONE}
            />
          ))}
        </Box>
      )}
      {placed && placed.warnings.length > 0 && (
        <Box component="ul" sx={{ m: 0, mt: 0.5, pl: 2, color: 'text.secondary', fontSize: 12 }}>
          {placed.warnings.slice(0, MOST_NAMED).map((warning) => (
            <li key={warning}>{warning}</li>
          ))}
          {placed.warnings.length > MOST_NAMED && <li>… and {placed.warnings.length - MOST_NAMED} more</li>}
        </Box>
      )}
    </Box>
  );
}

/** Cuts of edit systems: what they hold, what of their media is missing, and the button that lays them out. */
export function CutList() {
  const cuts = useSessionState((state) => state.cuts);
  if (cuts.length === 0) return null;
  return (
    <Box
      component="section"
      aria-label="Timelines to be placed"
      sx={{
        px: 2,
        py: 0.5,
        borderBottom: 1,
        borderColor: 'divider',
        maxHeight: 260,
        overflow: 'auto',
        flex: 'none',
      }}
    >
      {cuts.map((pending) => (
        <CutCard key={pending.id} pending={pending} />
      ))}
    </Box>
  );
}
