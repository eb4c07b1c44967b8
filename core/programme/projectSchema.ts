import { array, boolean, isSchema, mixed, number, object, string, ValidationError, type Schema } from 'yup';
import { PROGRAMME_LAYOUTS } from '@/core/audio/layout';
import { THRESHOLD_FIELDS } from '@/core/check/findings/thresholds';
import { storedTargetSchema } from '@/core/check/schema';
import { deliveryShape } from './deliverySchema';
import { DUCK_RANGES, type DuckTiming } from './ducking';
import { ROLES, type FadeShape, type Project, type SegmentShape } from './model';
import { PLAN_PARTS } from './plan';

const real = () => number().required().test('finite', '${path} is no number', Number.isFinite);
const frames = (min = 0) => real().min(min).max(Number.MAX_SAFE_INTEGER);
const id = () => string().required().min(1).max(200);
const name = () => string().defined().max(2_000);
const flag = () => boolean().required();
/** @param known `false`: it may be left out */
const passthrough = (known = true) =>
  mixed()
    .nullable()
    .test(
      'object',
      '${path} is no object',
      (value) => value === null || typeof value === 'object' || (!known && value === undefined),
    );

export const SEGMENT_SHAPES: readonly SegmentShape[] = ['easeStart', 'easeEnd', 'ease', 'step'];
const shape = () => string().oneOf([...SEGMENT_SHAPES]);
/** What is no point at all is told by the record's own shape. */
const inOrder = (points: unknown): boolean => {
  const places = (points as ({ readonly at?: unknown } | null | undefined)[]).map((point) =>
    Number(point?.at),
  );
  return places.every((at, i) => i === 0 || !(at <= places[i - 1]!));
};
const curve = () =>
  array()
    .of(object({ at: real(), db: real().min(-1000).max(1000), shape: shape() }))
    .required()
    .test('order', '${path} goes back in time', inOrder);
const balance = () => real().min(-1).max(1);

/** Those with a name. */
export const FADE_SHAPES: readonly FadeShape[] = ['equalPower', 'straight', 'smooth', 'exponential'];
/** A name, or a correlation. */
export const isFadeShape = (value: unknown): boolean =>
  typeof value === 'number' ? value >= -1 && value <= 1 : FADE_SHAPES.includes(value as FadeShape);

const fadeShape = () => mixed().required().test('shape', '${path} is no shape of a fade', isFadeShape);

const gain = object({
  db: real().min(-1000).max(1000),
  lastChangeDb: real(),
  reason: object({ kind: string().required().oneOf(['asRecorded', 'byHand', 'levelled']) }).required(),
}).required();

export const limiterShape = object({
  name: string().defined().max(200),
  ceilingDbtp: real().min(-60).max(20),
  inputDb: real().min(-72).max(72),
  lookAheadMs: real().min(0.1).max(20),
  releaseMs: number().nullable().defined().min(1).max(5_000),
  lfeApart: flag(),
  bypassed: flag(),
})
  .nullable()
  .defined();

const layout = object({
  id: id(),
  name: name(),
  labels: array().of(string().defined()).required().min(1).max(32),
  weights: array().of(real().min(0).max(10)).required().min(1).max(32),
}).required();

const range = object({ from: real(), to: number().required() });

const faults = () => array().of(object({ kind: name(), sentence: string().defined() }));

const source = object({
  id: id(),
  name: name(),
  folder: name(),
  audioKey: id(),
  byteLength: frames(),
  container: name(),
  codec: name(),
  sampleRate: frames(1).max(1_000_000),
  layout,
  frames: frames(1),
  partial: flag(),
  warnings: array().of(string().defined()).required(),
  integrity: faults().optional(),
  speech: object({
    from: name(),
    by: string().oneOf(['detector', 'hand']).optional(),
    ranges: array().of(range).required(),
  })
    .nullable()
    .defined(),
  timeReference: number().nullable().defined(),
  says: object({
    texts: array().of(array().of(string().defined()).required().length(2)).required().max(50),
    loudness: object().nullable().defined(),
    markers: real().min(0),
  })
    .nullable()
    .default(undefined),
  trimDb: real().min(-1000).max(1000),
});

const track = object({
  id: id(),
  name: name(),
  role: string()
    .required()
    .oneOf([...ROLES]),
  muted: flag(),
  gainDb: real().min(-1000).max(1000),
  shiftDb: real(),
  linkId: string().nullable().defined(),
  curve: curve(),
  limiter: limiterShape,
  passthrough: passthrough(),
});

const clip = object({
  id: id(),
  trackId: id(),
  sourceId: id(),
  name: name(),
  start: frames(),
  length: frames(1),
  sourceStart: frames(-Number.MAX_SAFE_INTEGER),
  trimDb: real().min(-1000).max(1000),
  gain,
  groupId: string().nullable().defined(),
  channelDb: array().of(real()).required().max(32),
  balance: balance(),
  balanceCurve: array()
    .of(object({ at: real(), balance: balance(), shape: shape() }))
    .required()
    .test('order', '${path} goes back in time', inOrder),
  fadeIn: frames(),
  fadeOut: frames(),
  fadeInShape: fadeShape(),
  fadeOutShape: fadeShape(),
  curve: curve(),
  curveReason: object({
    kind: string().required().oneOf(['ducked', 'evened']),
    points: string().required(),
    of: string().defined(),
  })
    .nullable()
    .default(undefined)
    .optional(),
  limiter: limiterShape,
  setName: string().nullable().defined(),
  passthrough: passthrough(),
});

const group = object({ id: id(), name: name(), parentId: string().nullable().defined(), gain });
const marker = object({ id: id(), at: real(), name: name(), passthrough: passthrough(false) });

/** A time of a ducking, ms. */
const duckTime = (name: keyof DuckTiming) => {
  const { min, max } = DUCK_RANGES[name];
  const message = `${name} is a number from ${min} to ${max} ms`;
  return number().required().min(min, message).max(max, message);
};

export const duckTimingShape = object({
  lookAheadMs: duckTime('lookAheadMs'),
  attackMs: duckTime('attackMs'),
  holdMs: duckTime('holdMs'),
  releaseMs: duckTime('releaseMs'),
  bridgeMs: duckTime('bridgeMs'),
});

const planLevel = object({
  relativeLu: real(),
  measure: string().required().oneOf(['integrated', 'maxShortTerm', 'maxMomentary']),
  how: string().required().oneOf(['each', 'source']),
  ceilingDbtp: number().nullable().defined(),
})
  .nullable()
  .defined();

export const planShape = object({
  name: string().required().max(200),
  levels: object(Object.fromEntries(PLAN_PARTS.map((part) => [part, planLevel]))).required(),
  ducking: duckTimingShape.default(undefined).optional(),
});

/** What each part of a project has to be; lists by their records. */
const LISTS = {
  ...{ sources: source, tracks: track, clips: clip, groups: group, markers: marker },
  deliveries: deliveryShape,
} as const;
const FIELDS: Readonly<Record<string, Schema>> = {
  schema: frames(),
  id: id(),
  name: name(),
  sampleRate: frames(8_000).max(384_000),
  layoutId: string()
    .required()
    .oneOf(PROGRAMME_LAYOUTS.map((one) => one.id)),
  monoLaw: string().required().oneOf(['constantPower', 'full']),
  time: object({ frameRateId: string().nullable().defined(), startSeconds: real() }).required(),
  target: storedTargetSchema,
  otherTargets: array().of(storedTargetSchema).required().max(50),
  thresholds: object(
    Object.fromEntries(THRESHOLD_FIELDS.map(({ key, min, max }) => [key, number().min(min).max(max)])),
  ).required(),
  accepted: array()
    .of(object({ id: id(), sentence: name(), note: name() }))
    .required()
    .max(10_000),
  plan: planShape.nullable().defined(),
  planAnchorLufs: number()
    .nullable()
    .defined()
    .test('finite', '${path} is no number', (value) => value === null || Number.isFinite(value)),
  curve: curve(),
  limiter: limiterShape,
  passthrough: passthrough(),
  cutFaults: faults().required(),
};

type ListName = keyof typeof LISTS;
const isList = (key: string): key is ListName => key in LISTS;

/** @returns what is wrong with a value of a project's field, `null` when nothing is */
function fault(schema: Schema, value: unknown, where: string): string | null {
  try {
    schema.validateSync(value, { strict: true, abortEarly: true });
    return null;
  } catch (error) {
    if (error instanceof ValidationError) return `${where}: ${error.message.replace(/^this /, 'it ')}`;
    throw error;
  }
}

function listFault(key: ListName, value: unknown): string | null {
  if (!Array.isArray(value)) return `${key} is no list`;
  const ids = new Set<unknown>();
  for (const [index, record] of value.entries()) {
    const where = `${key} ${index + 1}`;
    const found = fault(LISTS[key].required(), record, where);
    if (found) return found;
    const { id: own } = record as { readonly id: string };
    if (ids.has(own)) return `${where} has the id of another`;
    ids.add(own);
  }
  return null;
}

/** Whether records point to what is there. */
export function linkFault({ sources, tracks, clips, groups, markers }: Project): string | null {
  const holes = [sources, tracks, clips, groups, markers].some((list) => list.some((record) => !record));
  if (holes) return 'a record is missing';
  const ids = (list: readonly { readonly id: string }[]): ReadonlySet<string> =>
    new Set(list.map((record) => record.id));
  const [known, laid, grouped] = [ids(sources), ids(tracks), ids(groups)];
  for (const one of clips) {
    if (!known.has(one.sourceId)) return `the source of clip “${one.name}” is not there`;
    if (!laid.has(one.trackId)) return `the track of clip “${one.name}” is not there`;
    if (one.groupId !== null && !grouped.has(one.groupId))
      return `the group of clip “${one.name}” is not there`;
  }
  const parent = new Map(groups.map((one) => [one.id, one.parentId]));
  for (const one of groups) {
    let above = one.parentId;
    for (let depth = 0; above !== null && above !== undefined; depth++) {
      if (depth > groups.length || !parent.has(above)) return `group “${one.name}” is in none that is there`;
      above = parent.get(above) ?? null;
    }
  }
  const wide = sources.find(({ layout: { labels, weights } }) => labels.length !== weights.length);
  return wide ? `source “${wide.name}” has channels without a weight` : null;
}

/**
 * What is wrong with a project of the present version.
 * @returns a sentence without its full stop, or `null` when nothing is
 */
export function projectFault(project: unknown): string | null {
  if (typeof project !== 'object' || project === null) return 'it is no object';
  const values = project as Readonly<Record<string, unknown>>;
  for (const [key, schema] of Object.entries(FIELDS)) {
    const found = fault(schema, values[key], key);
    if (found) return found;
  }
  for (const key of Object.keys(LISTS)) {
    const found = isList(key) ? listFault(key, values[key]) : null;
    if (found) return found;
  }
  return linkFault(project as Project);
}

const stepShape = object({
  name: name(),
  redo: array().required(),
  undo: array().required(),
  merge: string().nullable().defined(),
  at: number().nullable().defined(),
});

const OPS: readonly unknown[] = ['add', 'remove', 'replace'];

interface Patched {
  readonly op?: unknown;
  readonly path?: unknown;
  readonly value?: unknown;
}

function patchFault(patch: unknown): string | null {
  const { op, path, value } = (patch ?? {}) as Patched;
  if (!OPS.includes(op)) return 'a step does what is not known';
  if (!Array.isArray(path) || path.length === 0) return 'a step changes nothing that is there';
  const [key, index, field] = path as unknown[];
  if (typeof key !== 'string' || !(isList(key) || key in FIELDS)) return 'a step changes what is not known';
  if (path.length === 3 && isList(key) && typeof field === 'string') {
    const schema: unknown = (LISTS[key].fields as Readonly<Record<string, unknown>>)[field];
    return isSchema(schema) ? fault(schema as Schema, value, `${field} in ${key}`) : null;
  }
  if (value === undefined || path.length > 2 || index === 'length') return null;
  if (isList(key))
    return index === undefined ? listFault(key, value) : fault(LISTS[key].required(), value, key);
  return index === undefined ? fault(FIELDS[key]!, value, key) : null;
}

/** What is wrong with a list of steps of the present version; `null` when nothing is. */
export function stepsFault(steps: unknown): string | null {
  if (!Array.isArray(steps)) return 'the steps are no list';
  for (const step of steps) {
    const found = fault(stepShape.required(), step, 'a step');
    if (found) return found;
    const { redo, undo } = step as { readonly redo: unknown[]; readonly undo: unknown[] };
    for (const patch of [...redo, ...undo]) {
      const wrong = patchFault(patch);
      if (wrong) return wrong;
    }
  }
  return null;
}
