'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useMemo, useState } from 'react';
import { propose, wantExactPeak } from '@/core/proposals/propose';
import { PLAIN_REQUEST, wholeSound } from '@/core/proposals/proposal';
import { readNames, sourceSetsOf } from '@/core/proposals/sets';
import { setSourceTrims } from '@/core/programme/edits/levels';
import { SOURCE_TRIM } from '@/core/programme/gainField';
import type { LevelMode, Source } from '@/core/programme/model';
import { withUnit } from '@/core/text/figures';
import { sourceKey } from '@/storage/measurements';
import { count } from '../parts/words';
import { HOW_NAMES, type How } from '../programme/level/levelDraft';
import { readFigure } from '../programme/level/levelFigures';
import { useProject, useSession, useSessionState } from '../session/SessionContext';
import { AlsoPlaced, usePlaced } from './AlsoPlaced';
import { ChosenPopover } from './ChosenPopover';
import { useExactPeaks, useExactSearch } from './useExactSources';

/** The ways that sources can be levelled before they are clips. */
const HOWS = ['each', 'all', 'folder', 'name'] as const satisfies readonly How[];
type SourceHow = (typeof HOWS)[number];

/** Brings sources to a level before they are used: the same proposals as for clips, given as trims. */
export function LevelSources({ chosen }: { chosen: readonly Source[] }) {
  const session = useSession();
  const project = useProject();
  const { target } = project;
  const measurements = useSessionState((state) => state.sourceMeasurements);
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [how, setHow] = useState<SourceHow>('each');
  const [namesText, setNamesText] = useState('');
  const [goalText, setGoalText] = useState<string | null>(null);
  const [alsoPlaced, setAlsoPlaced] = useState(false);
  const setKind = how === 'each' ? 'all' : how;
  const mode: LevelMode = how === 'each' ? 'each' : 'together';
  const names = useMemo(() => (how === 'name' ? readNames(namesText) : []), [how, namesText]);
  const goal = readFigure(goalText ?? String(target.integratedLufs), 'Goal', 'integrated');
  const { known, onKnown } = useExactPeaks();
  const { rows, inexact } = useMemo(() => {
    if (anchor === null || typeof goal !== 'number' || 'error' in names) return { rows: [], inexact: [] };
    const sounds = chosen.map((source) => measurements.get(sourceKey(source)) ?? null);
    const entries = chosen.map((source, i) => {
      const sound = sounds[i]!;
      const { id, name, trimDb: gainDb } = source;
      const entry = wholeSound(
        { id, name, gainDb, range: SOURCE_TRIM },
        sound,
        source.frames,
        source.warnings,
      );
      const exactTruePeakDbtp = sound ? known.get(sound) : undefined;
      return exactTruePeakDbtp === undefined || !entry.measurement
        ? entry
        : { ...entry, measurement: { ...entry.measurement, exactTruePeakDbtp } };
    });
    const request = { ...PLAIN_REQUEST, mode, goal, ceilingDbtp: target.maxTruePeakDbtp };
    const proposal = propose(entries, request, {
      setOf: sourceSetsOf(chosen, setKind, names),
    });
    const near = new Set(wantExactPeak(proposal, entries).map(({ id }) => id));
    return {
      rows: proposal.rows,
      inexact: chosen.flatMap((source, i) => {
        const sound = sounds[i];
        return sound && near.has(source.id) ? [{ sound, audioKey: source.audioKey }] : [];
      }),
    };
  }, [anchor, goal, mode, setKind, names, chosen, measurements, target, known]);
  const [next] = inexact;
  useExactSearch(next && { sound: next.sound, blob: session.engine.audioOf(next.audioKey) }, onKnown);
  const usable = rows.filter(({ skipped }) => skipped === null);
  const placed = usePlaced(chosen);
  const apply = (): void => {
    if (typeof goal !== 'number') return;
    setAnchor(null);
    const name = `Trim ${count(usable.length, 'source')} ${mode === 'each' ? 'each' : 'together'} to ${withUnit(goal, 'LUFS')}`;
    const trims = new Map(usable.map((row) => [row.id, row.gainAfterDb]));
    session.do(name, (state) => setSourceTrims(state, trims, alsoPlaced));
  };
  return (
    <ChosenPopover
      label="Level…"
      title="Level sources"
      width={520}
      disabled={chosen.length === 0}
      anchor={anchor}
      onAnchor={setAnchor}
    >
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
          onChange={(event) => setHow(event.target.value as SourceHow)}
          sx={{ width: 170 }}
        >
          {HOWS.filter((key) => key !== 'folder' || chosen.some(({ folder }) => folder !== '')).map((key) => (
            <MenuItem key={key} value={key} dense>
              {HOW_NAMES[key]}
            </MenuItem>
          ))}
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
          <Box component="li" key={row.id} sx={{ py: 0.25 }}>
            <Box component="span" sx={{ fontWeight: 600 }}>
              {chosen.find(({ id }) => id === row.id)?.name}
            </Box>{' '}
            <Box component="span" sx={{ color: 'text.secondary' }}>
              {row.sentence}
            </Box>
          </Box>
        ))}
      </Box>
      <AlsoPlaced placed={placed} checked={alsoPlaced} onChange={setAlsoPlaced} />
      <Button
        variant="contained"
        disabled={usable.length === 0 || inexact.length > 0}
        onClick={apply}
        sx={{ alignSelf: 'start' }}
      >
        {inexact.length > 0 ? 'Working out exact true peaks …' : `Trim ${count(usable.length, 'source')}`}
      </Button>
    </ChosenPopover>
  );
}
