'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import Popover from '@mui/material/Popover';
import TextField from '@mui/material/TextField';
import { useMemo, useState } from 'react';
import { propose } from '@/core/levelling/propose';
import { PLAIN_REQUEST, type ProposalRow } from '@/core/levelling/proposal';
import { readNames, setsOf, type SetKind } from '@/core/levelling/sets';
import { soundAsClip } from '@/core/levelling/soundAsClip';
import { setSourceTrim } from '@/core/programme/edits/levels';
import { MAX_TRIM_DB } from '@/core/programme/gainField';
import type { LevelMode, Source } from '@/core/programme/model';
import { withUnit } from '@/core/text/figures';
import { sourceKey } from '@/storage/measurements';
import { count } from '../parts/words';
import { gainText } from '../programme/clipLevel';
import { readFigure } from '../programme/level/levelFigures';
import { useProject, useSession, useSessionState } from '../session/SessionContext';
import { AlsoPlaced } from './AlsoPlaced';

type How = 'each' | Extract<SetKind, 'all' | 'folder' | 'name'>;

const HOWS: readonly (readonly [How, string])[] = [
  ['each', 'Each by itself'],
  ['all', 'All together'],
  ['folder', 'Together by folder'],
  ['name', 'Together by name'],
];

/** Whether a row gives a source a trim it can have. */
const fits = (row: ProposalRow): boolean => row.skipped === null && Math.abs(row.gainAfterDb) <= MAX_TRIM_DB;

function told(row: ProposalRow): string {
  if (row.skipped !== null || fits(row)) return row.sentence;
  return `Skipped: ${gainText(row.gainAfterDb)} wanted, and a trim goes no further than ${gainText(MAX_TRIM_DB)}.`;
}

/** Brings sources to a level before they are used: the same proposals as for clips, given as trims. */
export function LevelSources({ chosen }: { chosen: readonly Source[] }) {
  const session = useSession();
  const project = useProject();
  const { target, clips } = project;
  const measurements = useSessionState((state) => state.sourceMeasurements);
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [how, setHow] = useState<How>('each');
  const [namesText, setNamesText] = useState('');
  const [goalText, setGoalText] = useState<string | null>(null);
  const [alsoPlaced, setAlsoPlaced] = useState(false);
  const mode: LevelMode = how === 'each' ? 'each' : 'together';
  const names = useMemo(() => (how === 'name' ? readNames(namesText) : []), [how, namesText]);
  const goal = readFigure(goalText ?? String(target.integratedLufs), 'Goal', 'integrated');
  const rows = useMemo(() => {
    if (anchor === null || typeof goal !== 'number' || 'error' in names) return [];
    const entries = chosen.map((source) =>
      soundAsClip(
        source.id,
        source.name,
        measurements.get(sourceKey(source)) ?? null,
        source.frames,
        source.trimDb,
      ),
    );
    const request = { ...PLAIN_REQUEST, mode, goal, ceilingDbtp: target.maxTruePeakDbtp };
    return propose(entries, request, { setOf: setsOf(project, how === 'each' ? 'all' : how, names) }).rows;
  }, [anchor, goal, mode, how, names, chosen, measurements, target, project]);
  const usable = rows.filter(fits);
  const ids = new Set(chosen.map(({ id }) => id));
  const placed = clips.filter((clip) => ids.has(clip.sourceId)).length;
  const apply = (): void => {
    if (typeof goal !== 'number') return;
    setAnchor(null);
    const name = `Trim ${count(usable.length, 'source')} ${mode === 'each' ? 'each' : 'together'} to ${withUnit(goal, 'LUFS')}`;
    session.do(name, (project) =>
      usable.reduce(
        (state, row) => setSourceTrim(state, new Set([row.clipId]), row.gainAfterDb, alsoPlaced),
        project,
      ),
    );
  };
  return (
    <>
      <Button
        color="inherit"
        disabled={chosen.length === 0}
        aria-haspopup="dialog"
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        Level…
      </Button>
      <Popover
        anchorEl={anchor}
        open={anchor !== null}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
        slotProps={{ paper: { role: 'dialog', 'aria-label': 'Level sources' } }}
      >
        <Box sx={{ p: 2, width: 520, display: 'flex', flexDirection: 'column', gap: 1 }}>
          <Box sx={{ display: 'flex', gap: 1, alignItems: 'start' }}>
            <TextField
              label="Goal (LUFS)"
              autoFocus
              value={goalText ?? String(target.integratedLufs).replace('-', '−')}
              error={typeof goal !== 'number'}
              helperText={typeof goal === 'number' ? null : goal.error}
              onChange={(event) => setGoalText(event.target.value)}
              sx={{ width: 130 }}
            />
            <TextField
              select
              label="How"
              value={how}
              onChange={(event) => setHow(event.target.value as How)}
              sx={{ width: 170 }}
            >
              {HOWS.filter(([key]) => key !== 'folder' || chosen.some(({ folder }) => folder !== '')).map(
                ([key, name]) => (
                  <MenuItem key={key} value={key} dense>
                    {name}
                  </MenuItem>
                ),
              )}
            </TextField>
            {how === 'name' && (
              <TextField
                label="Names, one set each"
                value={namesText}
                placeholder="indoors, outdoors"
                error={namesText !== '' && 'error' in names}
                helperText={'error' in names ? names.error : 'What none of them holds for stands by itself'}
                onChange={(event) => setNamesText(event.target.value)}
                sx={{ flex: 1 }}
              />
            )}
          </Box>
          <Box
            component="ul"
            aria-label="Proposed trims"
            sx={{ m: 0, pl: 0, listStyle: 'none', fontSize: 12, maxHeight: 240, overflow: 'auto' }}
          >
            {rows.map((row) => (
              <Box component="li" key={row.clipId} sx={{ py: 0.25 }}>
                <Box component="span" sx={{ fontWeight: 600 }}>
                  {chosen.find(({ id }) => id === row.clipId)?.name}
                </Box>{' '}
                <Box component="span" sx={{ color: 'text.secondary' }}>
                  {told(row)}
                </Box>
              </Box>
            ))}
          </Box>
          <AlsoPlaced placed={placed} checked={alsoPlaced} onChange={setAlsoPlaced} />
          <Button
            variant="contained"
            disabled={usable.length === 0}
            onClick={apply}
            sx={{ alignSelf: 'start' }}
          >
            Trim {count(usable.length, 'source')}
          </Button>
        </Box>
      </Popover>
    </>
  );
}
