'use client';

import Button from '@mui/material/Button';
import { useMemo, useState } from 'react';
import { isStale } from '@/core/proposals/ledger';
import { limitsWanted, withLimits, type LimitWanted } from '@/core/proposals/limitedClip';
import { levelProposal } from '@/core/proposals/levelProposal';
import { keepingEar, setByEar } from '@/core/proposals/setByEar';
import type { MeasuredClip } from '@/core/proposals/proposal';
import { SET_KINDS, setsOf, type SetKind } from '@/core/proposals/sets';
import { clipEnd, ROLES, type Id, type Project } from '@/core/programme/model';
import { count } from '@/core/text/words';
import { ROLE_NAMES } from '../../ui/words';
import { useSession, useSessionState } from '../../session/SessionContext';
import { PLAIN_DRAFT, readDraft, spokenWords, type How, type LevelDraft, type Scope } from './levelDraft';
import { useClipLimits } from './useClipLimits';
import { LevelFields, LevelOptions } from './LevelFields';
import { HandSetGains } from '../plan/HandSetGains';
import { measuredClips, usePlaceTold } from '../useMeasuredClips';
import { HearButton } from '../proposal/HearButton';
import { ProposalSheet } from '../proposal/ProposalSheet';
import { useExactPeaks } from '../proposal/useExactPeaks';
import { useRows } from '../proposal/useRows';

const NONE: readonly LimitWanted[] = [];

/** Clips that can be levelled, and what they are called. */
interface ScopeOffered {
  readonly scope: Scope;
  readonly name: string;
  readonly entries: readonly MeasuredClip[];
}

/** Every scope that holds clips, these in order of time; the first is what is usually meant. */
function useScopes(project: Project): readonly ScopeOffered[] {
  const session = useSession();
  const selection = useSessionState((state) => state.selection);
  const range = useSessionState((state) => state.range);
  const measurements = useSessionState((state) => state.clipMeasurements);
  return useMemo(
    () => {
      const inOrder = [...project.clips].sort((a, b) => a.start - b.start);
      const all = measuredClips(session, project, inOrder);
      const offer = (
        scope: Scope,
        nameOf: (clips: number) => string,
        holds: (entry: MeasuredClip) => boolean,
      ): ScopeOffered[] => {
        const entries = all.filter(holds);
        return entries.length > 0 || scope === 'all'
          ? [{ scope, name: nameOf(entries.length), entries }]
          : [];
      };
      const roleOf = new Map(project.tracks.map(({ id, role }) => [id, role]));
      const named = (name: string) => (clips: number) => `${name}: ${count(clips, 'clip')}`;
      return [
        ...offer(
          'selected',
          (n) => count(n, 'selected clip'),
          ({ clip }) => selection.has(clip.id),
        ),
        ...offer(
          'all',
          (n) => `All ${count(n, 'clip')}`,
          () => true,
        ),
        ...offer(
          'range',
          (n) => `${count(n, 'clip')} in the range`,
          ({ clip }) => range !== null && clip.start < range.to && clipEnd(clip) > range.from,
        ),
        ...offer('stale', (n) => count(n, 'stale clip'), isStale),
        ...ROLES.flatMap((role) =>
          offer(`role ${role}`, named(ROLE_NAMES[role]), ({ clip }) => roleOf.get(clip.trackId) === role),
        ),
        ...project.tracks.flatMap(({ id, name }) =>
          offer(`track ${id}`, named(`Track ${name}`), ({ clip }) => clip.trackId === id),
        ),
      ];
    },
    // eslint-disable-next-line react-hooks/exhaustive-deps -- measurements are read through the session
    [session, project, selection, range, measurements],
  );
}

/** The ways to level that make a difference in a programme. */
function howsOf(project: Project): How[] {
  const some: Partial<Record<SetKind, boolean>> = {
    folder: project.sources.some(({ folder }) => folder !== ''),
    group: project.groups.length > 0,
    hand: project.clips.some(({ setName }) => setName !== null),
  };
  return ['each', ...SET_KINDS.filter((kind) => some[kind] ?? true)];
}

function told(draft: LevelDraft): string {
  if (draft.how === 'each') return 'Each clip is levelled to the target level on its own.';
  if (draft.how === 'name')
    return 'Clips whose name (or source’s name) contains one of the names form a set and get the same change; every other clip is levelled on its own.';
  if (draft.how === 'group' || draft.how === 'hand')
    return 'All clips of a set get the same change: their balance stays, and together they reach the target level; every other clip is levelled on its own.';
  return 'All clips of a set get the same change: their balance stays, and together they reach the target level.';
}

/** Levels clips: what is asked for on top, the proposal with its reasons below, applied as one step. */
export function LevelSheet({ onClose, onFindParts }: { onClose: () => void; onFindParts: () => void }) {
  const session = useSession();
  const project = useSessionState((state) => state.history.project);
  const place = usePlaceTold();
  const { target } = project;
  const scopes = useScopes(project);
  const [draft, setDraft] = useState(PLAIN_DRAFT);
  // What was selected may be selected no more.
  const { scope, entries: inScope } = scopes.find((offered) => offered.scope === draft.scope) ?? scopes[0]!;
  const [release, setRelease] = useState<ReadonlySet<Id>>(new Set());
  const byEar = useMemo(
    () =>
      setByEar(
        project,
        inScope.map(({ clip }) => clip),
      ),
    [project, inScope],
  );
  const entries = useMemo(() => keepingEar(project, inScope, release), [project, inScope, release]);
  const read = useMemo(() => readDraft(draft, target), [draft, target]);
  const { request, names } = read;
  const plain = useMemo(() => {
    if (!request || 'error' in names) return null;
    const setOf = setsOf(project, draft.how === 'each' ? 'all' : draft.how, names);
    return levelProposal(entries, request, { place, setOf: ({ clip }) => setOf(clip) });
  }, [entries, request, names, draft.how, place, project]);
  const wanted = useMemo(
    () => (plain && request?.policy === 'limit' ? limitsWanted(project, plain.rows, request) : NONE),
    [plain, request, project],
  );
  const limits = useClipLimits(project, wanted);
  const proposal = useMemo(
    () => plain && request && withLimits(plain, project, request, wanted, limits.found),
    [plain, project, request, wanted, limits.found],
  );
  const limiting = wanted.filter(({ key }) => !limits.found.has(key)).length;
  const of = useRows(proposal, project);
  useExactPeaks(of, entries, (wanted) => session.findExactPeaks(wanted.map(({ clip }) => clip)));
  const uneven = of.picked.filter((row) => row.uneven).map(({ id }) => id);
  const asked = {
    ...{ draft: { ...draft, scope }, read, target, entries },
    onDraft: (change: Partial<LevelDraft>) => setDraft((before) => ({ ...before, ...change })),
  };
  return (
    <ProposalSheet
      label="Level clips"
      of={of}
      words={{
        subject: 'Clip',
        hear: (row) => (
          <HearButton clipId={row.id} name={row.name} proposed={() => proposal!.edit(project, [row])} />
        ),
      }}
      fields={<LevelFields {...asked} scopes={scopes} hows={howsOf(project)} />}
      options={
        <>
          <LevelOptions {...asked} canLimit />
          <HandSetGains gains={byEar} released={release} onReleased={setRelease} />
        </>
      }
      told={`${told(draft)}${spokenWords(draft, entries)}${draft.how === 'name' && 'error' in names ? ` ${names.error}.` : ''}`}
      waiting={
        limits.failure
          ? `${limits.failure.message} ${limits.failure.hint}`
          : limiting > 0
            ? `Finding the gain of ${count(limiting, 'clip')} through a limiter …`
            : null
      }
      apply={(n) => `Apply ${n > 0 ? count(n, 'gain') : ''}`}
      onClose={onClose}
      actions={
        uneven.length > 0 && (
          <Button
            color="inherit"
            onClick={() => {
              session.select(uneven, true);
              onFindParts();
            }}
          >
            Find the parts of {count(uneven.length, 'uneven clip')}
          </Button>
        )
      }
    />
  );
}
