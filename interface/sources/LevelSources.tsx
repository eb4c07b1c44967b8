'use client';

import HearIcon from '@mui/icons-material/HearingOutlined';
import StopIcon from '@mui/icons-material/Stop';
import Box from '@mui/material/Box';
import IconButton from '@mui/material/IconButton';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useMemo, useState } from 'react';
import { useStore } from 'zustand';
import { trimProposal } from '@/core/proposals/levelProposal';
import { PLAIN_REQUEST, wholeSound, type ProposalRow } from '@/core/proposals/proposal';
import { readNames, sourceSetsOf } from '@/core/proposals/sets';
import { SOURCE_TRIM } from '@/core/programme/gainField';
import type { Source } from '@/core/programme/model';
import { count } from '@/core/text/words';
import { sourceKey } from '@/storage/measurements';
import { HOW_NAMES, type How } from '../programme/level/levelDraft';
import { readFigure } from '../programme/level/levelFigures';
import { ProposalSheet } from '../programme/proposal/ProposalSheet';
import { useExactPeaks } from '../programme/proposal/useExactPeaks';
import { useRows } from '../programme/proposal/useRows';
import { useSession, useSessionState } from '../session/SessionContext';
import { AlsoPlaced, usePlaced } from './AlsoPlaced';

/** The ways that sources can be levelled before they are clips. */
const HOWS = ['each', 'all', 'folder', 'name'] as const satisfies readonly How[];
type SourceHow = (typeof HOWS)[number];

/** Plays a source with a trim; pressed again, stops. */
function HearSource({ source, trimDb }: { source: Source; trimDb: number }) {
  const { audition } = useSession().listening;
  const hearing = useStore(audition.store, ({ heardId }) => heardId === source.id);
  return (
    <IconButton
      size="small"
      aria-label={`Hear ${source.name}`}
      aria-pressed={hearing}
      onClick={() => (hearing ? audition.stop() : void audition.play(source, 0, Infinity, trimDb))}
      sx={{ p: 0.25 }}
    >
      {hearing ? <StopIcon sx={{ fontSize: 17 }} /> : <HearIcon sx={{ fontSize: 17 }} />}
    </IconButton>
  );
}

/** Brings sources to a level before they are used: the same proposals as for clips, given as trims. */
export function LevelSources({ sources, onClose }: { sources: readonly Source[]; onClose: () => void }) {
  const session = useSession();
  const project = useSessionState((state) => state.history.project);
  const { target } = project;
  const measurements = useSessionState((state) => state.sourceMeasurements);
  const exactPeaks = useSessionState((state) => state.exactSourcePeaks);
  const [how, setHow] = useState<SourceHow>('each');
  const [namesText, setNamesText] = useState('');
  const [goalText, setGoalText] = useState<string | null>(null);
  const [alsoPlaced, setAlsoPlaced] = useState(false);
  const names = useMemo(() => (how === 'name' ? readNames(namesText) : []), [how, namesText]);
  const goal = readFigure(goalText ?? String(target.integratedLufs), 'Target level', 'integrated');
  const proposal = useMemo(() => {
    if (typeof goal !== 'number' || 'error' in names) return null;
    const subjects = sources.map((source) => {
      const { id, name, trimDb: gainDb, frames, warnings } = source;
      const key = sourceKey(source);
      const entry = wholeSound(
        { id, name, gainDb, range: SOURCE_TRIM },
        measurements.get(key) ?? null,
        frames,
        warnings,
      );
      const exactTruePeakDbtp = exactPeaks.get(key);
      return exactTruePeakDbtp === undefined || !entry.measurement
        ? entry
        : { ...entry, measurement: { ...entry.measurement, exactTruePeakDbtp } };
    });
    const mode = how === 'each' ? 'each' : 'together';
    const request = { ...PLAIN_REQUEST, mode, goal, ceilingDbtp: target.maxTruePeakDbtp } as const;
    const setOf = sourceSetsOf(sources, how === 'each' ? 'all' : how, names);
    return trimProposal(subjects, request, { setOf }, alsoPlaced);
  }, [goal, how, names, sources, measurements, exactPeaks, target, alsoPlaced]);
  const of = useRows(proposal, project);
  useExactPeaks(of, sources, (wanted) => session.findExactSourcePeaks(wanted));
  const byId = useMemo(() => new Map(sources.map((source) => [source.id, source])), [sources]);
  const placed = usePlaced(sources);
  return (
    <ProposalSheet
      label="Level sources"
      of={of}
      preview="never"
      words={{
        subject: 'Source',
        hear: (row: ProposalRow) => {
          const source = byId.get(row.id);
          return source && <HearSource source={source} trimDb={row.gainAfterDb} />;
        },
      }}
      fields={
        <>
          <Typography variant="h2" sx={{ lineHeight: '36px', mr: 0.5 }}>
            Level {count(sources.length, 'source')}
          </Typography>
          <TextField
            label="Target level (LUFS)"
            autoFocus
            value={goalText ?? String(target.integratedLufs).replace('-', '−')}
            error={typeof goal !== 'number'}
            helperText={typeof goal === 'number' ? null : goal.error}
            onChange={(event) => setGoalText(event.target.value)}
            sx={{ width: 130 }}
          />
          <TextField
            select
            label="Mode"
            value={how}
            onChange={(event) => setHow(event.target.value as SourceHow)}
            sx={{ width: 170 }}
          >
            {HOWS.filter((key) => key !== 'folder' || sources.some(({ folder }) => folder !== '')).map(
              (key) => (
                <MenuItem key={key} value={key} dense>
                  {HOW_NAMES[key]}
                </MenuItem>
              ),
            )}
          </TextField>
          {how === 'name' && (
            <TextField
              label="Names, one per set"
              value={namesText}
              placeholder="indoors, outdoors"
              error={namesText !== '' && 'error' in names}
              helperText={'error' in names ? names.error : 'What none of them holds for stands by itself'}
              onChange={(event) => setNamesText(event.target.value)}
              sx={{ width: 260 }}
            />
          )}
        </>
      }
      options={<AlsoPlaced placed={placed} checked={alsoPlaced} onChange={setAlsoPlaced} />}
      told="A source is given a trim: every clip placed from now on begins with it. The figures of the source stay as recorded."
      apply={(n) => `Trim ${n > 0 ? count(n, 'source') : ''}`}
      empty={<Box />}
      onClose={onClose}
    />
  );
}
