import { AROUND_SECONDS, clickAt, usualTurn, type Click } from '@/core/measuring/clicks';
import { correlationAt } from '@/core/measuring/correlation';
import { crossfade, handlesOf, joinAfter, type Join } from '@/core/programme/edits/crossfades';
import { fadeRoom, setFades, type FadeSide } from '@/core/programme/edits/fades';
import { clipEnd, type Clip, type Id, type Project } from '@/core/programme/model';
import { withoutLimiters } from '@/core/signal/asRecorded';
import { renderRange } from '@/core/signal/mix';
import type { OpenSource } from '@/core/signal/source';
import { signed, withUnit } from '@/core/text/figures';
import { count } from '@/core/text/words';
import type { Proposal, ProposedRow } from './protocol';

/** What counts as a click. */
export interface ClickLimits {
  /** So much sharper than the sound around it, dB. */
  readonly overDb: number;
  /** Anything softer is not heard, dBFS. */
  readonly leastDbfs: number;
}

export const CLICK_LIMITS: ClickLimits = { overDb: 10, leastDbfs: -50 };

/** Fades that are tried, the shortest first, seconds. */
const LENGTHS = [0.001, 0.002, 0.003, 0.005, 0.008, 0.012, 0.02, 0.03, 0.05] as const;

/** How a click is mended. */
type Mend =
  | { readonly kind: 'fade'; readonly side: FadeSide; readonly frames: number }
  | { readonly kind: 'crossfade'; readonly frames: number; readonly rho: number | null }
  /** Where there is no sound to cross with: the one fades out, the next in. */
  | { readonly kind: 'fades'; readonly frames: number };

/** A click at an edge of a clip, or where one follows on another. */
export interface FoundClick {
  readonly clipId: Id;
  readonly kind: 'start' | 'end' | 'join';
  /** Programme frame. */
  readonly at: number;
  readonly click: Click;
  /** The shortest that brings it under the limits; `null` where none does. */
  readonly mend: Mend | null;
  /** What is left with that. */
  readonly after: Click | null;
}

const isClick = (click: Click | null, { overDb, leastDbfs }: ClickLimits): click is Click =>
  click !== null && click.overDb >= overDb && click.dbfs >= leastDbfs;

const alone = (side: FadeSide, id: Id, frames: number) => (project: Project) =>
  setFades(project, new Set([id]), side, { length: frames, shape: 'smooth' });

/** The project with a click mended. */
export function mendedClick(project: Project, { clipId, at, mend }: FoundClick): Project {
  const clip = project.clips.find(({ id }) => id === clipId);
  if (!clip || !mend) return project;
  if (mend.kind === 'fade') return alone(mend.side, clipId, mend.frames)(project);
  const join = joinAfter(project, clip);
  if (mend.kind === 'fades') {
    const out = alone('out', clipId, mend.frames)(project);
    return join ? alone('in', join.after.id, mend.frames)(out) : out;
  }
  const [from, to] = [at - Math.floor(mend.frames / 2), at + Math.ceil(mend.frames / 2)];
  return join ? crossfade(project, join, from, to, mend.rho ?? 'equalPower') : project;
}

/** A place where a clip begins or ends. */
interface Edge {
  readonly clip: Clip;
  readonly kind: FoundClick['kind'];
  readonly at: number;
  readonly join: Join | null;
}

/** Every edge of every clip; where one follows on another without a gap they share one. */
function edgesIn(project: Project): Edge[] {
  const joined = new Set<Id>();
  const ends = project.clips.map((clip): Edge => {
    const join = joinAfter(project, clip);
    const touches = join?.shared === 0 ? join : null;
    if (touches) joined.add(touches.after.id);
    return { clip, kind: touches ? 'join' : 'end', at: clipEnd(clip), join: touches };
  });
  const starts = project.clips
    .filter(({ id }) => !joined.has(id))
    .map((clip): Edge => ({ clip, kind: 'start', at: clip.start, join: null }));
  return [...starts, ...ends].sort((a, b) => a.at - b.at);
}

/** Looks at one edge, and for what mends it. */
async function lookAt(
  project: Project,
  { clip, kind, at, join }: Edge,
  limits: ClickLimits,
  openSource: OpenSource,
): Promise<FoundClick | null> {
  const { sampleRate } = project;
  const reach = Math.round(AROUND_SECONDS * sampleRate);
  const ids = new Set([clip.id, ...(join ? [join.after.id] : [])]);
  // Only what meets here is heard.
  const meeting = (state: Project): Project => ({
    ...state,
    clips: state.clips.filter(({ id }) => ids.has(id)),
  });
  const render = (state: Project): Promise<Float32Array[]> =>
    renderRange(meeting(state), openSource, at - reach, 2 * reach);
  const samples = await render(project);
  const usual = usualTurn(samples, reach);
  const click = clickAt(samples, reach, usual);
  if (!isClick(click, limits)) return null;
  const source = project.sources.find(({ id }) => id === clip.sourceId);
  const frames = source ? Math.floor((source.frames * sampleRate) / source.sampleRate) : 0;
  const handles = join && handlesOf(join, frames);
  const tries = LENGTHS.flatMap((seconds): Mend[] => {
    const length = Math.max(2, Math.round(seconds * sampleRate));
    if (join && handles)
      return Math.min(handles.before, handles.after) >= Math.ceil(length / 2)
        ? [{ kind: 'crossfade', frames: length, rho: null }]
        : Math.min(fadeRoom(clip, 'out'), fadeRoom(join.after, 'in')) >= length
          ? [{ kind: 'fades', frames: length }]
          : [];
    const side: FadeSide = kind === 'start' ? 'in' : 'out';
    return fadeRoom(clip, side) >= length ? [{ kind: 'fade', side, frames: length }] : [];
  });
  const found: FoundClick = { clipId: clip.id, kind, at, click, mend: null, after: null };
  for (const attempt of tries) {
    const half = attempt.frames / 2;
    const mend: Mend =
      attempt.kind !== 'crossfade' || !join
        ? attempt
        : { ...attempt, rho: await correlationAt(project, join, at - half, at + half, openSource) };
    const done = await render(mendedClick(project, { ...found, mend }));
    const after = left(done, usual, reach, attempt.frames);
    if (!isClick(after, limits)) return { ...found, mend, after };
  }
  return found;
}

/** What is left of a click with a fade on it: at the place, and where the fade begins and ends. @param usual as it was without */
function left(done: readonly Float32Array[], usual: number, at: number, length: number): Click | null {
  const [half, last] = [length / 2, 2 * at - 3];
  const places = [at, at - Math.floor(half), at + Math.ceil(half), at - length, at + length];
  return places
    .filter((place) => place > 2 && place < last)
    .reduce<Click | null>((most, place) => {
      const click = clickAt(done, place, usual);
      return click && (!most || click.dbfs > most.dbfs) ? click : most;
    }, null);
}

/**
 * Finds clicks where clips begin, end, or follow on one another: from the samples, by how sharply they turn there.
 * @param proceed asked between places with the part done; `false` stops
 * @returns in order of time; `null` when stopped
 */
export async function findClicks(
  project: Project,
  limits: ClickLimits,
  openSource: OpenSource,
  proceed: (done: number) => boolean | Promise<boolean>,
): Promise<FoundClick[] | null> {
  const plain = withoutLimiters({
    ...project,
    tracks: project.tracks.map((track) => ({ ...track, muted: false })),
  });
  const edges = edgesIn(plain);
  const found: FoundClick[] = [];
  for (const [i, edge] of edges.entries()) {
    const click = await lookAt(plain, edge, limits, openSource);
    if (click) found.push(click);
    if (i % 16 === 0 && !(await proceed(i / edges.length))) return null;
  }
  return found;
}

/** A click, and how it is mended. */
export interface ClickRow extends ProposedRow {
  readonly found: FoundClick;
}

const KINDS: Readonly<Record<FoundClick['kind'], string>> = {
  start: 'At its start',
  end: 'At its end',
  join: 'Where the next clip follows',
};

function sentenceOf({ kind, click, mend, after }: FoundClick, sampleRate: number): string {
  const over = (one: Click): string =>
    Number.isFinite(one.overDb) ? `${signed(one.overDb)} dB over the sound around it` : 'out of silence';
  const what = `${KINDS[kind]}: ${withUnit(click.dbfs, 'dBFS')}, ${over(click)}.`;
  if (!mend) return `${what} No fade up to 50 ms brings it under the limits.`;
  const ms = `${Math.round((mend.frames / sampleRate) * 1000)} ms`;
  const how = {
    fade: `A fade ${mend.kind === 'fade' ? mend.side : ''} of ${ms}`,
    crossfade: `A crossfade of ${ms}`,
    fades: `No sound beyond the cut to cross with: fades of ${ms} on both sides`,
  }[mend.kind];
  return `${what} ${how} ${mend.kind === 'fades' ? 'leave' : 'leaves'} ${after ? withUnit(after.dbfs, 'dBFS') : 'nothing'}.`;
}

/** Mends clicks by the shortest fade or crossfade that brings them under the limits. */
export function clickProposal(project: Project, clicks: readonly FoundClick[]): Proposal<ClickRow> {
  const names = new Map(project.clips.map(({ id, name }) => [id, name]));
  const there = clicks.filter(({ clipId }) => names.has(clipId));
  return {
    rows: there.map((found): ClickRow => ({
      ...{ id: `${found.clipId} ${found.kind}`, name: names.get(found.clipId)!, found },
      before: found.click.dbfs,
      after: found.mend ? (found.after?.dbfs ?? null) : found.click.dbfs,
      ...{ gainBeforeDb: 0, gainAfterDb: 0, truePeakAfter: null, exactPeakAfter: null },
      ...{ noiseFloorAfter: null, limitedBy: null, passesCeiling: false, warnings: [] },
      skipped: found.mend ? null : 'notMended',
      sentence: sentenceOf(found, project.sampleRate),
    })),
    unit: 'dBFS',
    gives: 'change',
    range: { name: 'Nothing', min: 0, max: 0 },
    inexact: [],
    typed: (row) => row,
    edit: (current, rows) =>
      // From the last to the first: a crossfade moves where the next clip begins.
      [...rows]
        .sort((a, b) => b.found.at - a.found.at)
        .reduce((state, { found }) => mendedClick(state, found), current),
    step: (rows) => `Mend ${count(rows.length, 'click')}`,
  };
}
