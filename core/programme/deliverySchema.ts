import { array, boolean, number, object, string } from 'yup';
import { storedTargetSchema } from '@/core/check/schema';
import type { Coder, Correction, FileKind } from './delivery';
import { ROLES } from './role';

const FILE_KINDS: readonly FileKind[] = [
  ...(['wav', 'bwf', 'rf64', 'bw64', 'aiff', 'flac', 'mp3', 'opus', 'mov', 'mp4', 'mkv'] as const),
];
const CORRECTIONS: readonly Correction[] = ['none', 'gain', 'limiter'];

/** Largest lengths of silence and of handles, seconds. */
export const MOST_SILENCE = 600;
export const MOST_HANDLE = 60;

const oneOf = (words: readonly string[]) =>
  string()
    .required()
    .oneOf([...words]);
const seconds = (most: number) => number().required().min(0).max(most);
const text = () => string().defined().max(2_000);
const ids = () => array().of(string().required().max(200)).max(10_000);

const formatShape = object({
  kind: oneOf(FILE_KINDS),
  depth: oneOf(['s16', 's24', 'f32']),
  dither: boolean().required(),
  coded: boolean().required(),
  coder: string<Coder>().oneOf(['opus', 'ac3']).optional(),
  kbps: number().required().integer().min(32).max(512),
}).required();

/** What a delivery that was kept has to be. */
export const deliveryShape = object({
  id: string().required().min(1).max(200),
  pattern: string().defined().max(300),
  version: number().required().integer().min(1).max(9_999),
  target: storedTargetSchema.nullable().defined(),
  what: object({
    kind: oneOf(['programme', 'roles', 'tracks', 'without', 'clips']),
    trackIds: ids().when('kind', { is: 'tracks', then: (list) => list.required() }),
    clipIds: ids().when('kind', { is: 'clips', then: (list) => list.required() }),
    roles: array()
      .of(oneOf(ROLES))
      .when('kind', { is: 'without', then: (list) => list.required() }),
  }).required(),
  range: object({
    kind: oneOf(['all', 'range', 'markers']),
    from: number().when('kind', { is: 'range', then: (from) => from.required().min(0) }),
    to: number().when('kind', { is: 'range', then: (to) => to.required().min(1) }),
  }).required(),
  layoutId: string().nullable().defined().max(200),
  sampleRate: number().nullable().defined().integer().min(8_000).max(384_000),
  format: formatShape,
  correction: oneOf(CORRECTIONS),
  texts: object({ title: text(), artist: text(), description: text(), language: text() }).required(),
  headSeconds: seconds(MOST_SILENCE),
  tailSeconds: seconds(MOST_SILENCE),
  handleSeconds: seconds(MOST_HANDLE),
  saysLoudness: boolean().required(),
});
