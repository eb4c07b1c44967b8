import { useEffect, useMemo, useState } from 'react';
import type { Judged } from '@/core/check/verdict';
import { amplitudeToDb } from '@/core/loudness/decibels';
import { largest, loudnessOf } from '@/core/loudness/figures';
import { partFigures } from '@/core/loudness/levelTrack';
import type { MovingSums } from '@/core/measuring/movingSums';
import type { Id, Project } from '@/core/programme/model';
import { withoutLimiters } from '@/core/signal/asRecorded';
import type { ProgrammeSummary } from '@/engine/protocol';
import { useSession, useSessionState } from '../session/SessionContext';
import { ROLE_NAMES } from '../ui/words';

/** What is judged: all of it, the range, a role or a track. */
export interface Scope {
  readonly id: string;
  readonly name: string;
  /** Clips of it; `null` where it is a span of time. */
  readonly clipIds: ReadonlySet<Id> | null;
}

const WHOLE: Scope = { id: 'whole', name: 'The whole programme', clipIds: null };
const RANGE: Scope = { id: 'range', name: 'The range', clipIds: null };

/** All that can be judged by itself. */
function scopesOf({ tracks, clips }: Pick<Project, 'tracks' | 'clips'>, hasRange: boolean): Scope[] {
  const laid = (trackIds: ReadonlySet<Id>): ReadonlySet<Id> =>
    new Set(clips.filter(({ trackId }) => trackIds.has(trackId)).map(({ id }) => id));
  const sounding = tracks.filter(({ id, muted }) => !muted && clips.some(({ trackId }) => trackId === id));
  const roles = [...new Set(sounding.map(({ role }) => role))];
  return [
    WHOLE,
    ...(hasRange ? [RANGE] : []),
    ...roles.map((role) => ({
      ...{ id: `role ${role}`, name: `All ${ROLE_NAMES[role].toLowerCase()}` },
      clipIds: laid(new Set(sounding.filter((track) => track.role === role).map(({ id }) => id))),
    })),
    ...sounding.map(({ id, name }) => ({
      id: `track ${id}`,
      name: `Track ${name}`,
      clipIds: laid(new Set([id])),
    })),
  ];
}

/** The figures of what moves in some sums, as a sound by itself. */
function stemFigures({ energies, movingTruePeak }: MovingSums, sampleRate: number): Judged {
  const channels = movingTruePeak[0]!.map(largest);
  return {
    ...loudnessOf(energies[2]!, sampleRate),
    truePeakDbtp: amplitudeToDb(Math.max(0, ...channels)),
    samplePeakDbfs: null,
    channelPeaks: [],
  };
}

const rangeFigures = (programme: ProgrammeSummary, from: number, to: number): Judged => ({
  ...partFigures(programme, { from, to }),
  samplePeakDbfs: null,
  channelPeaks: [],
});

/** What is judged, with its figures; those of roles and tracks are rendered when they are asked for. */
export function useScope(project: Project, whole: Judged | null) {
  const session = useSession();
  const range = useSessionState((state) => state.range);
  const programme = useSessionState((state) => state.programme);
  const [id, setId] = useState(WHOLE.id);
  const scopes = useMemo(() => scopesOf(project, range !== null), [project, range]);
  const scope = scopes.find((one) => one.id === id) ?? WHOLE;
  const [stem, setStem] = useState<{ of: Project; id: string; judged: Judged | string } | null>(null);
  useEffect(() => {
    if (!scope.clipIds) return;
    let wanted = true;
    const { clipIds } = scope;
    const playable = withoutLimiters(session.playable(project));
    void session.engine.moving(playable, { kind: 'gain', ids: clipIds }).then((outcome) => {
      if (!wanted) return;
      const judged =
        'ok' in outcome && outcome.ok
          ? stemFigures(outcome.ok, project.sampleRate)
          : 'failure' in outcome
            ? `${outcome.failure.message} ${outcome.failure.hint}`
            : 'None of it sounds.';
      setStem({ of: project, id: scope.id, judged });
    });
    return () => {
      wanted = false;
    };
  }, [session, project, scope]);
  const judged = useMemo((): Judged | string | null => {
    if (scope.id === WHOLE.id) return whole;
    if (scope.id === RANGE.id && range && programme) {
      const { sampleRate } = project;
      return rangeFigures(programme, range.from / sampleRate, range.to / sampleRate);
    }
    return stem?.of === project && stem.id === scope.id ? stem.judged : null;
  }, [scope, whole, range, programme, project, stem]);
  return { scopes, scope, select: setId, judged, isWhole: scope.id === WHOLE.id };
}
