import type { Target } from '@/core/check/target';
import { plainDelivery } from './delivery';
import { redoStep, undoStep, type History, type Step } from './history';
import type { Project } from './model';
import { linkFault, projectFault, stepsFault } from './projectSchema';

/** The version of the project's shape that this code writes. Raise it with every change of shape. */
export const SCHEMA_VERSION = 11;

type Plain = Readonly<Record<string, unknown>>;

const each = (list: unknown, added: Plain): Plain[] =>
  (list as Plain[]).map((item) => ({ ...item, ...added }));

/** migrations[n] brings a project from version n to n + 1. */
const migrations: Readonly<Record<number, (project: Plain) => Plain>> = {
  /** Sources say whether they are whole, and when somebody speaks in them. */
  1: (project) => ({ ...project, sources: each(project['sources'], { partial: false, speech: null }) }),
  /** Tracks have a gain, sources a trim, and clips the trim they were placed with, and fades. */
  2: (project) => ({
    ...project,
    sources: each(project['sources'], { trimDb: 0, timeReference: null }),
    tracks: each(project['tracks'], { gainDb: 0 }),
    clips: each(project['clips'], { trimDb: 0, fadeIn: 0, fadeOut: 0 }),
  }),
  /** What cuts said besides, a plan, groups, linked tracks, markers, balance and gains by channel, timecode, a choice of law for mono. */
  3: (project) => ({
    ...project,
    monoLaw: 'constantPower',
    time: { frameRateId: null, startSeconds: 0 },
    tracks: each(project['tracks'], { linkId: null, kept: null }),
    clips: each(project['clips'], { groupId: null, channelDb: [], balance: 0, kept: null }),
    groups: [],
    markers: [],
    plan: null,
    planShiftDb: 0,
    kept: null,
  }),
  /** Gain over time, sets made by hand, and the folders that sources came out of. */
  4: (project) => ({
    ...project,
    sources: each(project['sources'], { folder: '' }),
    clips: each(project['clips'], { curve: [], setName: null }),
  }),
  /** What a gain was worked out for is named station by station. */
  5: (project) => ({
    ...project,
    clips: (project['clips'] as Plain[]).map(keyByStation),
    groups: (project['groups'] as Plain[]).map(keyByStation),
  }),
  /** Tracks say what of their gain came with all of them being moved together. */
  6: (project) => {
    const tracks = project['tracks'] as Plain[];
    const moved = (project['planShiftDb'] as number | undefined) ?? 0;
    const together = tracks.every(({ gainDb }) => Math.abs((gainDb as number) - moved) < 0.005);
    return { ...project, tracks: each(tracks, { shiftDb: together ? moved : 0 }) };
  },
  /** Curves and limiters on tracks and the programme, balance over time, shapes of fades; what passes through is named so. */
  7: (project) => {
    const level = { curve: [], limiter: null };
    const shapes = { fadeInShape: 'equalPower', fadeOutShape: 'equalPower' };
    return passingThrough({
      ...project,
      ...level,
      tracks: each(project['tracks'], level).map(passingThrough),
      clips: each(project['clips'], { limiter: null, balanceCurve: [], ...shapes }).map(passingThrough),
    });
  },
  /** Several targets can be in force; thresholds of findings, and findings that were accepted. */
  8: (project) => ({ ...project, otherTargets: [], thresholds: {}, accepted: [] }),
  /** What is handed over is kept. */
  9: (project) => ({ ...project, deliveries: [plainDelivery('whole', project['target'] as Target)] }),
  /** Differences from the placed timeline are stored, and the level a plan was carried out to in place of all common moves. */
  10: ({ planShiftDb, ...project }) => {
    const target = project['target'] as Target | undefined;
    const planned = target !== undefined && (project['clips'] as Plain[]).some(isPlanned);
    const planAnchorLufs = planned
      ? target.integratedLufs + ((planShiftDb as number | undefined) ?? 0)
      : null;
    return { ...project, cutFaults: [], planAnchorLufs };
  },
};

/** Whether a clip's gain comes from a plan. */
const isPlanned = ({ gain }: Plain): boolean =>
  (gain as { readonly reason?: { readonly mode?: string } } | undefined)?.reason?.mode === 'plan';

/** A record's `kept` under its new name; untouched where it has none. */
function passingThrough({ kept, ...record }: Plain): Plain {
  return kept === undefined ? record : { ...record, passthrough: kept };
}

/** A clip or group whose gain's reason names what it was worked out for in one row, in place of by station. */
function keyByStation(item: Plain): Plain {
  const gain = item['gain'] as { readonly reason?: { readonly of?: string } } | undefined;
  const of = gain?.reason?.of;
  if (of === undefined) return item;
  return { ...item, gain: { ...gain, reason: { ...gain?.reason, of: keyOfRow(of) } } };
}

/** A row: sound, its layout, start, length, rate, layout, fades; then gains by channel with balance, law and curve where there are any. */
function keyOfRow(row: string): string {
  const [audioKey, sourceLayout, start, length, rate, layout, fadeIn, fadeOut, ...more] = row.split('/');
  const curve = more.at(-1)?.includes(':') ? more.pop()! : null;
  const full = more.at(-1) === 'full' ? more.pop()! : null;
  const [channelDb, balance] = more;
  const moved = balance === undefined ? [] : [balance, ...(channelDb === '' ? [] : [channelDb])];
  return [
    ...[audioKey, sourceLayout, start, length, rate],
    ...(curve === null ? [] : [`curve=${curve}`]),
    ...(fadeIn === '0' && fadeOut === '0' ? [] : [`fades=${fadeIn},${fadeOut}`]),
    `channels=${[layout, ...(full === null ? [] : [full]), ...moved].join(',')}`,
  ].join('/');
}

/** Why a stored project cannot be opened. */
export class ProjectFormatError extends Error {
  override readonly name = 'ProjectFormatError';
}

/** What of a project one patch of a step replaces or puts in. */
interface StoredPatch {
  readonly path: readonly (string | number)[];
  readonly value?: unknown;
}

/**
 * Brings the steps of a stored project's history up to the present shape: the records they put back or in.
 * @param from the version of the project they were kept with
 */
export function migrateSteps<
  T extends { readonly redo: readonly StoredPatch[]; readonly undo: readonly StoredPatch[] },
>(stored: readonly T[], from: number): readonly T[] {
  if (from === SCHEMA_VERSION) return stored;
  // Steps say when they were done since version 7.
  const timed = stored.map((step) => ({ at: null, ...step }));
  const patch = (before: StoredPatch): StoredPatch => {
    const [key, index] = before.path;
    if (key === undefined || !('value' in before) || before.path.length > 2 || index === 'length')
      return before;
    if (key === 'kept' && from < 8) return { ...before, path: ['passthrough'] };
    // In a project of nothing else, what it puts in is migrated like any other.
    const inList = index !== undefined;
    const alone = { ...EMPTY, schema: from, [key]: inList ? [before.value] : before.value };
    const after = (migrateProject(alone) as unknown as Plain)[key];
    return { ...before, value: inList ? (after as unknown[])[0] : after };
  };
  // Common moves are no longer counted: what they come to is in the tracks.
  const patched = (patches: readonly StoredPatch[]): StoredPatch[] =>
    patches.filter(({ path }) => path[0] !== 'planShiftDb').map(patch);
  return timed.map((step) => ({ ...step, redo: patched(step.redo), undo: patched(step.undo) }));
}

const EMPTY: Plain = { sources: [], tracks: [], clips: [], groups: [] };

/** A project that was kept, with its history, checked. */
export interface ReadProject {
  readonly project: Project;
  readonly past: readonly Step[];
  readonly future: readonly Step[];
  /** What of it could not be read and was left out, as a full sentence; `null` when nothing. */
  readonly lost: string | null;
}

/** Whether all steps can be taken back, and done again, without leaving records that point nowhere. */
function canBeWalked(history: History): boolean {
  let at = history;
  while (at.past.length > 0) {
    at = undoStep(at);
    if (linkFault(at.project)) return false;
  }
  while (at.future.length > 0) {
    at = redoStep(at);
    if (linkFault(at.project)) return false;
  }
  return true;
}

/**
 * Reads a project that was kept, with its history, and checks every value of it. A history that makes no sense is left
 * out: the project itself stands without it.
 * @throws ProjectFormatError when the project itself is damaged or comes from a newer version of the product
 */
export function readProject(stored: unknown): ReadProject {
  const { project: kept, past, future } = (stored ?? {}) as Readonly<Record<string, unknown>>;
  let project: Project;
  try {
    project = migrateProject(kept);
  } catch (error) {
    if (error instanceof ProjectFormatError) throw error;
    throw new ProjectFormatError('This project is damaged: it cannot be brought up to date.');
  }
  const fault = projectFault(project);
  if (fault) throw new ProjectFormatError(`This project is damaged: ${fault}.`);
  const { schema } = kept as { readonly schema: number };
  try {
    const [back, on] = [past, future].map((steps) => migrateSteps(steps as readonly Step[], schema));
    if (stepsFault(back) === null && stepsFault(on) === null) {
      const history = { project, past: back!, future: on! };
      if (canBeWalked(history)) return { ...history, lost: null };
    }
  } catch {
    // Whatever it was, the project stands without it.
  }
  return {
    project,
    past: [],
    future: [],
    lost: 'The steps before could not be read; nothing can be undone.',
  };
}

/**
 * Brings a stored project up to the present shape.
 * @throws ProjectFormatError when it is none, or comes from a newer version of the product
 */
export function migrateProject(stored: unknown, steps = migrations, version = SCHEMA_VERSION): Project {
  if (
    typeof stored !== 'object' ||
    stored === null ||
    !('schema' in stored) ||
    typeof stored.schema !== 'number'
  ) {
    throw new ProjectFormatError('This is not a project, or it is damaged.');
  }
  let project: Plain = stored as unknown as Plain;
  let at = stored.schema;
  if (at > version) {
    throw new ProjectFormatError('This project was made by a newer version. Update, then open it again.');
  }
  for (; at < version; at++) {
    const step = steps[at];
    if (!step) throw new ProjectFormatError(`Nothing is known of project version ${at}.`);
    project = { ...step(project), schema: at + 1 };
  }
  return project as unknown as Project;
}
