'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useStore } from 'zustand';
import { createStore } from 'zustand/vanilla';
import {
  clipsToFade,
  copyFades,
  fadeAll,
  fadeOf,
  fadeRoom,
  setFades,
  type FadeSide,
} from '@/core/programme/edits/fades';
import { FADE_SHAPES } from '@/core/programme/projectSchema';
import type { Clip, FadeShape } from '@/core/programme/model';
import { count } from '@/core/text/words';
import { NumberField } from '../../editing/NumberField';
import { useProject, useSession } from '../../session/SessionContext';
import { Fold } from '../../ui/Fold';
import { fadeShapeWords, secondsText } from '../../ui/words';
import { changeView, LONGEST_FADE, useViewSettings } from '../viewSettings';

const MS = 1_000;

/** The one value of several, else `null`. */
const shared = <T,>(values: readonly T[]): T | null =>
  values.every((value) => value === values[0]) ? (values[0] ?? null) : null;

const who = (clips: readonly Clip[]): string =>
  clips.length === 1 ? clips[0]!.name : count(clips.length, 'clip');

/** Which shapes can be selected; one by correlation only where it is there already. */
function ShapeField({
  label,
  shape,
  onShape,
}: {
  label: string;
  shape: FadeShape | null;
  onShape: (shape: FadeShape) => void;
}) {
  const shapes = typeof shape === 'number' ? [...FADE_SHAPES, shape] : FADE_SHAPES;
  return (
    <TextField
      select
      label={label}
      value={shape ?? ''}
      onChange={(event) => onShape(event.target.value as FadeShape)}
      sx={{ flex: 1 }}
    >
      {shapes.map((one) => (
        <MenuItem key={one} value={one} dense>
          {fadeShapeWords(one)}
        </MenuItem>
      ))}
    </TextField>
  );
}

/** The fade at one side of the selected clips, by number and shape. */
function SideFields({ clips, side }: { clips: readonly Clip[]; side: FadeSide }) {
  const session = useSession();
  const { sampleRate } = useProject();
  const fades = clips.map((clip) => fadeOf(clip, side));
  const length = shared(fades.map((fade) => fade.length));
  const room = Math.min(...clips.map((clip) => fadeRoom(clip, side)));
  const name = side === 'in' ? 'Fade in' : 'Fade out';
  const ids = new Set(clips.map(({ id }) => id));
  const most = Math.floor((room / sampleRate) * MS);
  return (
    <Box sx={{ display: 'flex', gap: 1, alignItems: 'start' }}>
      <NumberField
        label={`${name} (ms)`}
        value={length === null ? null : (length / sampleRate) * MS}
        placeholder="various"
        range={{ name, min: 0, max: most, unit: 'ms' }}
        onValue={(ms) => {
          const frames = Math.round((ms / MS) * sampleRate);
          session.do(
            ms === 0
              ? `No fade ${side} on ${who(clips)}`
              : `${name} ${who(clips)} over ${secondsText(ms / MS)}`,
            (project) => setFades(project, ids, side, { length: frames }),
          );
        }}
      />
      <ShapeField
        label={`Shape (${side})`}
        shape={shared(fades.map((fade) => fade.shape))}
        onShape={(shape) =>
          session.do(`${name} ${who(clips)}: ${fadeShapeWords(shape).toLowerCase()}`, (project) =>
            setFades(project, ids, side, { shape }),
          )
        }
      />
    </Box>
  );
}

/** The fade that clips without one are given: its length and shape stay as they were set last. */
function FadesForAll({ clips }: { clips: readonly Clip[] }) {
  const session = useSession();
  const project = useProject();
  const { fadeSeconds, fadeShape } = useViewSettings();
  const ids = new Set(clips.map(({ id }) => id));
  const length = Math.round(fadeSeconds * project.sampleRate);
  const { faded, own, short } = clipsToFade(project, ids, length);
  const left = [
    ...(own > 0
      ? [
          `${count(own, 'clip')} with fades of its own`.replace(
            'clips with fades of its',
            'clips with fades of their',
          ),
        ]
      : []),
    ...(short > 0 ? [`${count(short, 'clip')} too short`] : []),
  ];
  return (
    <>
      <Box sx={{ display: 'flex', gap: 1, alignItems: 'start' }}>
        <NumberField
          label="Default (ms)"
          value={fadeSeconds * MS}
          range={{ name: 'The default fade', min: 1, max: LONGEST_FADE * MS, unit: 'ms' }}
          onValue={(ms) => changeView({ fadeSeconds: ms / MS })}
        />
        <ShapeField
          label="Default shape"
          shape={fadeShape}
          onShape={(shape) => typeof shape === 'string' && changeView({ fadeShape: shape })}
        />
      </Box>
      <Box>
        <Button
          variant="outlined"
          disabled={faded.length === 0}
          onClick={() =>
            session.do(`Fade ${count(faded.length, 'clip')} by ${secondsText(fadeSeconds)}`, (state) =>
              fadeAll(state, ids, { length, shape: fadeShape }),
            )
          }
        >
          {faded.length === 0
            ? 'Fade where there is none'
            : `Fade ${count(faded.length, 'clip')} where there is none`}
        </Button>
        {left.length > 0 && (
          <Box sx={{ color: 'text.secondary', mt: 0.5 }}>Left alone: {left.join(', ')}.</Box>
        )}
      </Box>
    </>
  );
}

/** The clip whose fades were copied last; they can be put on others, in other projects too. */
const copied = createStore<{ readonly from: Clip | null; readonly rate: number }>(() => ({
  from: null,
  rate: 1,
}));

/** Takes the fades of one clip to others. */
function CopyFades({ clips }: { clips: readonly Clip[] }) {
  const session = useSession();
  const { sampleRate } = useProject();
  const { from, rate } = useStore(copied);
  const [only] = clips;
  return (
    <Box sx={{ display: 'flex', gap: 0.5 }}>
      {clips.length === 1 && only && (
        <Button
          color="inherit"
          disabled={only.fadeIn === 0 && only.fadeOut === 0}
          onClick={() => {
            copied.setState({ from: only, rate: sampleRate });
            session.notes.tell(`Fades of ${only.name} copied.`);
          }}
        >
          Copy fades
        </Button>
      )}
      {from && (
        <Button
          color="inherit"
          title={`Those of ${from.name}, in place of what is there`}
          onClick={() =>
            session.do(`Paste fades to ${who(clips)}`, (project) =>
              copyFades(project, new Set(clips.map(({ id }) => id)), from, sampleRate / rate),
            )
          }
        >
          Paste fades
        </Button>
      )}
    </Box>
  );
}

/** Fades of the selected clips. */
export function FadeBox({ clips }: { clips: readonly Clip[] }) {
  const { sampleRate } = useProject();
  const told = (['in', 'out'] as const).flatMap((side) => {
    const length = shared(clips.map((clip) => fadeOf(clip, side).length));
    return length === null || length === 0 ? [] : [`${side} ${secondsText(length / sampleRate)}`];
  });
  return (
    <Fold name={told.length > 0 ? `Fades: ${told.join(', ')}` : 'Fades'} remember="Fades">
      <SideFields clips={clips} side="in" />
      <SideFields clips={clips} side="out" />
      <CopyFades clips={clips} />
      <FadesForAll clips={clips} />
    </Fold>
  );
}
