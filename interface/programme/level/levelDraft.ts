import type { CeilingPolicy, LevelRequest, MeasuredClip } from '@/core/proposals/proposal';
import { isPeak } from '@/core/measuring/clipReading';
import { count } from '@/core/text/words';
import { usualGoal } from '@/core/proposals/usualGoal';
import { readNames, type SetKind } from '@/core/proposals/sets';
import type { Id, LevelMeasure, Role } from '@/core/programme/model';
import type { Target } from '@/core/check/target';
import { readFigure } from './levelFigures';

/** How clips are brought to the goal: each, or together by sets. */
export type How = 'each' | SetKind;

export const HOW_NAMES: Readonly<Record<How, string>> = {
  each: 'Each by itself',
  all: 'All together',
  source: 'Together by source',
  folder: 'Together by folder',
  track: 'Together by track',
  role: 'Together by role',
  group: 'Together by group',
  name: 'Together by name',
  hand: 'Together by set',
};

/** Which clips are levelled: those of a role or a track by its name or id. */
export type Scope = 'selected' | 'all' | 'range' | 'stale' | `role ${Role}` | `track ${Id}`;

/** What is asked for, as it was typed; `null` where what is usual stands. */
export interface LevelDraft {
  /** `null`: what is chosen, or else all. */
  readonly scope: Scope | null;
  readonly measure: LevelMeasure;
  readonly how: How;
  readonly policy: CeilingPolicy;
  readonly spokenOnly: boolean;
  readonly goalText: string | null;
  readonly ceilingText: string | null;
  readonly floorText: string | null;
  readonly namesText: string;
}

/** Noise that comes up past this is warned of unless another level is typed, LUFS. */
const USUAL_FLOOR_LUFS = -50;

export const PLAIN_DRAFT: LevelDraft = {
  scope: null,
  measure: 'integrated',
  how: 'each',
  policy: 'stop',
  spokenOnly: false,
  goalText: null,
  ceilingText: null,
  floorText: null,
  namesText: '',
};

const plain = (value: number): string => String(value).replace('-', '−');

/** What stands in the fields, typed or usual. */
export const textsOf = ({ measure, goalText, ceilingText, floorText }: LevelDraft, target: Target) => ({
  goal: goalText ?? plain(usualGoal(measure, target)),
  ceiling: ceilingText ?? plain(target.maxTruePeakDbtp),
  floor: floorText ?? plain(USUAL_FLOOR_LUFS),
});

type Read<T> = T | { readonly error: string };

export interface ReadDraft {
  readonly goal: Read<number>;
  readonly ceiling: Read<number>;
  readonly floor: Read<number>;
  readonly names: Read<readonly string[]>;
  /** `null` while something is not as it must be. */
  readonly request: LevelRequest | null;
}

/** Reads what was typed. */
export function readDraft(draft: LevelDraft, target: Target): ReadDraft {
  const { measure, how, policy, spokenOnly } = draft;
  const texts = textsOf(draft, target);
  const goal = readFigure(texts.goal, 'Target level', measure);
  const ceiling = readFigure(texts.ceiling, 'Ceiling', 'truePeak');
  const floor = readFigure(texts.floor, 'Noise floor', 'integrated');
  const names = how === 'name' ? readNames(draft.namesText) : [];
  const right =
    typeof goal === 'number' &&
    typeof ceiling === 'number' &&
    typeof floor === 'number' &&
    !('error' in names);
  const request: LevelRequest | null = right
    ? {
        ...{ measure, goal, spokenOnly },
        // A peak is brought to its own level: there is nothing to limit.
        policy: policy === 'limit' && isPeak(measure) ? 'stop' : policy,
        mode: how === 'each' ? 'each' : 'together',
        ceilingDbtp: ceiling,
        floorLufs: floor,
      }
    : null;
  return { goal, ceiling, floor, names, request };
}

export const errorOf = (read: Read<unknown>): string | null =>
  typeof read === 'object' && read !== null && 'error' in read ? (read.error as string) : null;

/** Says of which clips nothing tells when somebody speaks: they are measured whole. */
export function spokenWords({ spokenOnly }: LevelDraft, entries: readonly MeasuredClip[]): string {
  const untold = spokenOnly ? entries.filter(({ speech }) => speech == null).length : 0;
  return untold > 0
    ? ` Of ${count(untold, 'clip')} no subtitles say when somebody speaks: all of each is measured.`
    : '';
}
