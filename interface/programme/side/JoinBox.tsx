'use client';

import Box from '@mui/material/Box';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { crossfade, handlesOf, isCrossfade, joinAfter, type Join } from '@/core/programme/edits/crossfades';
import { sourceLength } from '@/core/programme/edits/clips';
import { clipEnd, type Clip, type FadeShape } from '@/core/programme/model';
import { figure } from '@/core/text/figures';
import { NumberField } from '../../editing/NumberField';
import { useProject, useSession } from '../../session/SessionContext';
import { Fold } from '../../ui/Fold';
import { secondsText } from '../../ui/words';

const MS = 1_000;

/** How two clips cross: by what their sounds have in common as it is measured, or by one of two laws. */
type Law = 'measured' | 'equalPower' | 'straight';

const LAWS: readonly (readonly [Law, string])[] = [
  ['measured', 'By measured correlation'],
  ['equalPower', 'Equal power'],
  ['straight', 'Equal gain'],
];

const lawOf = (shape: FadeShape): Law =>
  typeof shape === 'number' ? 'measured' : shape === 'straight' ? 'straight' : 'equalPower';

/** How far a crossfade reaches before and after the place where the clips would meet, frames. */
interface Sides {
  readonly before: number;
  readonly after: number;
}

function Fields({ join, clip }: { join: Join; clip: Clip }) {
  const session = useSession();
  const project = useProject();
  const { sampleRate } = project;
  const [law, setLaw] = useState<Law>(isCrossfade(join) ? lawOf(join.before.fadeOutShape) : 'measured');
  // Where they meet: where they met when they were selected, or the middle of what they share.
  const [from, to] = [join.after.start, clipEnd(join.before)];
  const middle = Math.round((from + to) / 2);
  const [met] = useState(middle);
  const meet = met >= from && met <= to ? met : middle;
  const source = project.sources.find(({ id }) => id === join.before.sourceId);
  const handles = handlesOf(join, source ? sourceLength(source, sampleRate) : Infinity);
  const now: Sides = { before: meet - from, after: to - meet };
  const room: Sides = {
    before: Math.min(now.before + handles.before, meet - join.before.start - join.before.fadeIn),
    after: Math.min(now.after + handles.after, clipEnd(join.after) - join.after.fadeOut - meet),
  };
  const cross = async (sides: Sides, by: Law): Promise<void> => {
    const [start, end] = [meet - sides.before, meet + sides.after];
    const { before, after } = join;
    let shape: FadeShape = by === 'straight' ? 'straight' : 'equalPower';
    if (by === 'measured' && end > start) {
      const outcome = await session.engine.correlation(project, before.id, start, end);
      if ('failure' in outcome) return session.notes.fail('crossfade', outcome.failure, 'Crossfade');
      const rho = 'ok' in outcome ? outcome.ok.rho : null;
      // What is silent has nothing in common with anything.
      shape = Number((rho ?? 0).toFixed(3));
    }
    const over = secondsText((end - start) / sampleRate);
    session.do(
      end > start
        ? `Crossfade ${before.name} into ${after.name} over ${over}`
        : `No crossfade after ${before.name}`,
      (state) => {
        const there = state.clips.find(({ id }) => id === before.id);
        const same = there && joinAfter(state, there);
        return same ? crossfade(state, same, start, end, shape) : state;
      },
    );
  };
  const field = (side: keyof Sides, label: string) => (
    <NumberField
      label={label}
      value={(now[side] / sampleRate) * MS}
      range={{
        name: side === 'before' ? 'The crossfade before the cut' : 'The crossfade after the cut',
        min: 0,
        max: Math.floor((room[side] / sampleRate) * MS),
        unit: 'ms',
      }}
      width="auto"
      onValue={(ms) => void cross({ ...now, [side]: Math.round((ms / MS) * sampleRate) }, law)}
    />
  );
  const shape = join.before.fadeOutShape;
  return (
    <>
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 1 }}>
        {field('before', 'Before the cut (ms)')}
        {field('after', 'After the cut (ms)')}
      </Box>
      <TextField
        select
        label="Crossfade law"
        value={law}
        onChange={(event) => {
          const next = event.target.value as Law;
          setLaw(next);
          if (isCrossfade(join)) void cross(now, next);
        }}
      >
        {LAWS.map(([id, name]) => (
          <MenuItem key={id} value={id} dense>
            {name}
          </MenuItem>
        ))}
      </TextField>
      <Box sx={{ color: 'text.secondary' }} data-join>
        {isCrossfade(join) &&
          typeof shape === 'number' &&
          `The sounds correlate by ${figure(shape, 2)} here. `}
        Beyond the cut {clip.name} has {secondsText(handles.after / sampleRate)}; {join.after.name} has{' '}
        {secondsText(handles.before / sampleRate)} before it.
      </Box>
    </>
  );
}

/** The join with the next clip of the track: its crossfade by number, and what the sources have beyond the cut. */
export function JoinBox({ clip }: { clip: Clip }) {
  const project = useProject();
  const join = joinAfter(project, clip);
  if (!join) return null;
  const told = isCrossfade(join) ? `: ${secondsText(join.shared / project.sampleRate)}` : '';
  return (
    <Fold name={`Crossfade into ${join.after.name}${told}`} remember="Crossfade">
      <Fields key={join.after.id} join={join} clip={clip} />
    </Fold>
  );
}
