import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import { whatWords } from '@/core/deliver/deliveryWords';
import type { Delivered, DeliveredRange, Delivery } from '@/core/programme/delivery';
import { MOST_HANDLE } from '@/core/programme/deliverySchema';
import { programmeFrames, ROLES } from '@/core/programme/model';
import { count } from '@/core/text/words';
import { ChoiceField } from '../editing/ChoiceField';
import { NumberField } from '../editing/NumberField';
import { PlaceField } from '../editing/PlaceField';
import { useProject, useSessionState } from '../session/SessionContext';
import { ROLE_NAMES } from '../ui/words';
import { useDelivery } from './useDelivery';

const WHATS: readonly (readonly [Delivered['kind'], string])[] = [
  ['programme', 'The programme'],
  ['roles', 'A stem for each role'],
  ['tracks', 'A stem for each track'],
  ['without', 'All but some roles'],
  ['clips', 'Selected clips alone'],
];

const RANGES: readonly (readonly [DeliveredRange['kind'], string])[] = [
  ['all', 'All of it'],
  ['range', 'A range'],
  ['markers', 'From each marker to the next'],
];

function Ticks<T extends string>({
  label,
  of,
  ticked,
  onTicked,
}: {
  label: string;
  of: readonly (readonly [T, string])[];
  ticked: readonly T[];
  onTicked: (ticked: readonly T[]) => void;
}) {
  return (
    <Box role="group" aria-label={label} sx={{ display: 'flex', flexWrap: 'wrap', columnGap: 1 }}>
      <Box sx={{ width: '100%', fontSize: 12, color: 'text.secondary' }}>{label}</Box>
      {of.map(([value, name]) => (
        <FormControlLabel
          key={value}
          label={name}
          control={
            <Checkbox
              size="small"
              checked={ticked.includes(value)}
              onChange={(_, checked) =>
                onTicked(checked ? [...ticked, value] : ticked.filter((one) => one !== value))
              }
            />
          }
        />
      ))}
    </Box>
  );
}

/** What of the programme is delivered. */
export function WhatFields({ delivery }: { delivery: Delivery }) {
  const project = useProject();
  const selection = useSessionState((state) => state.selection);
  const change = useDelivery(delivery);
  const { what } = delivery;
  const set = (next: Delivered): void => change(whatWords(project, next).toLowerCase(), { what: next });
  const begin: Readonly<Record<Delivered['kind'], Delivered>> = {
    programme: { kind: 'programme' },
    roles: { kind: 'roles' },
    tracks: { kind: 'tracks', trackIds: [] },
    without: { kind: 'without', roles: ['dialogue', 'narration'] },
    clips: { kind: 'clips', clipIds: [...selection] },
  };
  return (
    <>
      <ChoiceField
        label="What"
        value={what.kind}
        choices={WHATS.map(([value, label]) => ({ value, label }))}
        onChoose={(value) => set(begin[value as Delivered['kind']])}
      />
      {what.kind === 'tracks' && (
        <Ticks
          label="Tracks; none ticked: each"
          of={project.tracks.map(({ id, name }) => [id, name] as const)}
          ticked={what.trackIds}
          onTicked={(trackIds) => set({ kind: 'tracks', trackIds })}
        />
      )}
      {what.kind === 'without' && (
        <Ticks
          label="Roles left out"
          of={ROLES.map((role) => [role, ROLE_NAMES[role]] as const)}
          ticked={what.roles}
          onTicked={(roles) => set({ kind: 'without', roles })}
        />
      )}
      {what.kind === 'clips' && (
        <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, fontSize: 12 }}>
          {count(what.clipIds.length, 'clip')}
          <Button
            size="small"
            disabled={selection.size === 0}
            onClick={() => set({ kind: 'clips', clipIds: [...selection] })}
          >
            Take those selected now ({selection.size})
          </Button>
        </Box>
      )}
    </>
  );
}

/** From where to where. */
export function RangeFields({ delivery }: { delivery: Delivery }) {
  const project = useProject();
  const drawn = useSessionState((state) => state.range);
  const change = useDelivery(delivery);
  const { range, handleSeconds } = delivery;
  const end = programmeFrames(project);
  const set = (next: DeliveredRange): void =>
    change(RANGES.find(([kind]) => kind === next.kind)![1].toLowerCase(), { range: next });
  // Typed the wrong way round, the earlier place is where it begins.
  const between = (a: number, b: number): void => {
    if (a !== b) set({ kind: 'range', from: Math.min(a, b), to: Math.max(a, b) });
  };
  return (
    <>
      <ChoiceField
        label="From where to where"
        value={range.kind}
        choices={RANGES.map(([value, label]) => ({ value, label }))}
        onChoose={(value) => {
          const kind = value as DeliveredRange['kind'];
          set(
            kind === 'range' ? { kind, from: drawn?.from ?? 0, to: drawn?.to ?? Math.max(1, end) } : { kind },
          );
        }}
      />
      {range.kind === 'range' && (
        <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap' }}>
          <PlaceField label="From" frame={range.from} onPlace={(from) => between(from, range.to)} />
          <PlaceField label="To" frame={range.to} onPlace={(to) => between(range.from, to)} />
          <Button
            size="small"
            disabled={!drawn}
            onClick={() => drawn && set({ kind: 'range', from: drawn.from, to: drawn.to })}
          >
            Take the range drawn
          </Button>
        </Box>
      )}
      {range.kind !== 'all' && (
        <NumberField
          label="Handles (s)"
          value={handleSeconds}
          range={{ name: 'Handles', min: 0, max: MOST_HANDLE, unit: 's' }}
          onValue={(seconds) => change(`handles of ${seconds} s`, { handleSeconds: seconds })}
        />
      )}
    </>
  );
}
