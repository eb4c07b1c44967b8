'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import { useMemo } from 'react';
import { programmeLayout } from '@/core/audio/layout';
import { changeLimiters, limitersOf, type LimiterOwner } from '@/core/programme/edits/limiters';
import type { Limiter } from '@/core/programme/model';
import { LIMITER_RANGES, SPEECH_AND_MUSIC } from '@/core/signal/limiter/presets';
import { placeText } from '@/core/programme/timeText';
import { OF_PROGRAMME } from '@/core/signal/mix';
import { withUnit } from '@/core/text/figures';
import { NumberField } from '../../editing/NumberField';
import { useProject, useSession, useSessionState } from '../../session/SessionContext';
import { Fold } from '../../ui/Fold';
import { reductionWords } from '../../ui/reductionBars';
import { PresetMenu } from '../../ui/PresetMenu';
import { LIMITERS } from './limiterPresets';

/** The one value that all of several limiters have, else `null`. */
function shared<K extends keyof Limiter>(limiters: readonly Limiter[], key: K): Limiter[K] | null {
  const value = limiters[0]?.[key];
  return value !== undefined && limiters.every((limiter) => limiter[key] === value) ? value : null;
}

const RELEASE_MS = 100;

interface Props {
  readonly owner: LimiterOwner;
  /** Whose it is: “Narrator”, “3 clips”. */
  readonly who: string;
}

/** What the limiters are set to, each figure by number. */
function Settings({
  limiters,
  change,
}: {
  limiters: readonly Limiter[];
  change: (what: string, change: Partial<Limiter>) => void;
}) {
  const { layoutId } = useProject();
  const hasLfe = programmeLayout(layoutId).labels.some((label) => label.startsWith('LFE'));
  const release = shared(limiters, 'releaseMs');
  const automatic = limiters.every(({ releaseMs }) => releaseMs === null);
  const field = (key: 'ceilingDbtp' | 'inputDb' | 'lookAheadMs') => {
    const range = LIMITER_RANGES[key];
    return (
      <NumberField
        label={`${range.name} (${range.unit})`}
        value={shared(limiters, key)}
        placeholder="various"
        range={range}
        width="auto"
        onValue={(value) =>
          change(`${range.name.toLowerCase()} ${withUnit(value, range.unit)}`, { [key]: value })
        }
      />
    );
  };
  return (
    <>
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 1 }}>
        {field('ceilingDbtp')}
        {field('inputDb')}
        {field('lookAheadMs')}
        <NumberField
          label="Release (ms)"
          value={release}
          placeholder={automatic ? 'automatic' : 'various'}
          disabled={automatic}
          range={LIMITER_RANGES.releaseMs}
          width="auto"
          onValue={(releaseMs) => change(`release ${withUnit(releaseMs, 'ms', 0)}`, { releaseMs })}
        />
      </Box>
      <Box sx={{ display: 'flex', flexDirection: 'column' }}>
        <Tick
          label="Automatic release: slower the longer it works"
          checked={automatic}
          onChange={(on) =>
            change(on ? 'automatic release' : `release ${RELEASE_MS} ms`, {
              releaseMs: on ? null : RELEASE_MS,
            })
          }
        />
        {hasLfe && (
          <Tick
            label="LFE on its own"
            checked={limiters.every(({ lfeApart }) => lfeApart)}
            onChange={(lfeApart) => change(lfeApart ? 'LFE on its own' : 'LFE with the others', { lfeApart })}
          />
        )}
        <Tick
          label="Bypassed, to compare"
          checked={limiters.every(({ bypassed }) => bypassed)}
          onChange={(bypassed) => change(bypassed ? 'bypassed' : 'on', { bypassed })}
        />
      </Box>
    </>
  );
}

const Tick = ({
  label,
  checked,
  onChange,
}: {
  label: string;
  checked: boolean;
  onChange: (checked: boolean) => void;
}) => (
  <FormControlLabel
    control={
      <Checkbox size="small" checked={checked} onChange={(_, on) => onChange(on)} sx={{ p: 0.25, mr: 0.5 }} />
    }
    label={label}
    sx={{ mx: 0, '& .MuiFormControlLabel-label': { fontSize: 12 } }}
  />
);

/** How hard it works, where it is one. */
function Work({ owner, bypassed }: { owner: LimiterOwner; bypassed: boolean }) {
  const project = useProject();
  const programme = useSessionState((state) => state.programme);
  const measuring = useSessionState((state) => state.measuring !== null);
  if (owner.kind !== 'programme' && owner.ids.size !== 1) return null;
  const id = owner.kind === 'programme' ? OF_PROGRAMME : [...owner.ids][0]!;
  const clip = owner.kind === 'clips' ? project.clips.find((one) => one.id === id) : undefined;
  const { sampleRate } = project;
  const told = reductionWords(
    programme?.reductions.get(id),
    (seconds) => placeText(project, seconds * sampleRate),
    clip ? clip.length / sampleRate : (programme?.lengthSeconds ?? 0),
  );
  return (
    <Box role="status" data-reduction>
      {bypassed ? 'Bypassed: nothing goes through it.' : measuring || !programme ? 'Measuring …' : told}
    </Box>
  );
}

/** The limiters of some clips or tracks, or the one on the programme: put on, set, bypassed, taken off, all of them at once. */
export function LimiterBox({ owner, who }: Props) {
  const session = useSession();
  const project = useProject();
  const all = useMemo(() => limitersOf(project, owner), [project, owner]);
  const limiters = all.filter((limiter) => limiter !== null);
  const [first] = limiters;
  const put = (name: string, change: (limiter: Limiter | null) => Limiter | null): void =>
    session.do(name, (state) => changeLimiters(state, owner, change));
  const preset = first ?? { ...SPEECH_AND_MUSIC, ceilingDbtp: project.target.maxTruePeakDbtp };
  const names = shared(limiters, 'name');
  const some = limiters.length > 0 && limiters.length < all.length;
  return (
    <>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 0.5, flexWrap: 'wrap' }}>
        {limiters.length < all.length && (
          <Button
            variant="outlined"
            onClick={() =>
              put(`Limiter ${preset.name} on ${who}`, (limiter) => limiter ?? { ...preset, bypassed: false })
            }
          >
            {some ? `Put it on all ${all.length}` : 'Add limiter'}
          </Button>
        )}
        {first && (
          <>
            <PresetMenu
              kind={LIMITERS}
              preset={first}
              shown={names ?? 'Various'}
              onPreset={(preset) =>
                put(`Limiter ${preset.name} on ${who}`, (limiter) =>
                  limiter ? { ...preset, bypassed: limiter.bypassed } : null,
                )
              }
            />
            <Button color="inherit" onClick={() => put(`Remove the limiter of ${who}`, () => null)}>
              Remove
            </Button>
          </>
        )}
      </Box>
      {some && (
        <Box sx={{ color: 'text.secondary' }}>
          {limiters.length} of {all.length} have one.
        </Box>
      )}
      {first && <Work owner={owner} bypassed={limiters.every(({ bypassed }) => bypassed)} />}
      {first && (
        <Settings
          limiters={limiters}
          change={(what, change) =>
            put(`Limiter of ${who}: ${what}`, (limiter) => limiter && { ...limiter, ...change })
          }
        />
      )}
    </>
  );
}

/** “Limiter: −1.0 dBTP”, for the fold that it is in. */
export function limiterTitle(name: string, limiters: readonly (Limiter | null)[]): string {
  const there = limiters.filter((limiter) => limiter !== null);
  if (there.length === 0) return name;
  if (there.every(({ bypassed }) => bypassed)) return `${name}: bypassed`;
  const ceiling = shared(there, 'ceilingDbtp');
  return `${name}: ${ceiling === null ? `${there.length} on` : withUnit(ceiling, 'dBTP')}`;
}

/** The limiters of the selected clips, folded away. */
export function ClipLimiters({ ids, who }: { ids: readonly string[]; who: string }) {
  const project = useProject();
  const key = ids.join();
  const owner = useMemo((): LimiterOwner => ({ kind: 'clips', ids: new Set(key.split(',')) }), [key]);
  return (
    <Fold name={limiterTitle('Limiter', limitersOf(project, owner))} remember="Limiter">
      <LimiterBox owner={owner} who={who} />
    </Fold>
  );
}
