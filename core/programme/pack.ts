import { array, number, object, string, ValidationError } from 'yup';
import { safeName } from '@/core/text/safeName';
import type { Id, Project, Source } from './model';

/**
 * A project as one file, `Name.dengung`: a zip whose parts are stored as they are.
 * - `dengung.json`: {@link PackManifest}
 * - `project.json`: `{project, past, future}` as `readProject` takes it
 * - `handover.json`: what was handed over, as `readRecords` takes it; may be missing
 * - `sounds/…`: each sound as it is kept; or none, then they are told by name, length and checksum
 */
export const PACK_ENDING = '.dengung';
/** Whether a file's name is that of a pack. */
export const isPackName = (name: string): boolean => name.toLowerCase().endsWith(PACK_ENDING);

export const MANIFEST = 'dengung.json';
export const PROJECT = 'project.json';
export const HANDOVER = 'handover.json';

/** Larger texts in a pack are a mistake or an attack, bytes. */
export const MOST_TEXT_BYTES = 400_000_000;
export const MOST_LIST_BYTES = 20_000_000;
/** More parts as well. */
export const MOST_PARTS = 20_000;

/** A sound of a pack. */
export interface PackedSound {
  readonly audioKey: string;
  readonly name: string;
  readonly bytes: number;
  /** In hexadecimal; `null` where it was not there to be read. */
  readonly sha256: string | null;
  /** Where in the zip it is; `null` where it was left out. */
  readonly path: string | null;
}

export interface PackManifest {
  readonly format: 'dengung-project-1';
  readonly software: string;
  /** Local time as “2026-01-31 21:04:00”. */
  readonly made: string;
  readonly name: string;
  readonly sounds: readonly PackedSound[];
}

/** Why a pack cannot be opened. */
export class PackError extends Error {
  override readonly name = 'PackError';

  constructor(
    readonly code: 'notAPack' | 'damaged' | 'newer' | 'tooLarge',
    message: string,
    readonly hint: string,
  ) {
    super(message);
  }
}

export const notAPack = (): PackError =>
  new PackError('notAPack', 'This is no project file.', `Choose a file that ends in ${PACK_ENDING}.`);

export const damagedPack = (what: string): PackError =>
  new PackError(
    'damaged',
    `This project file is damaged: ${what}.`,
    'Copy it again from where it came from, or take a backup.',
  );

/** What a pack says of itself. @param version of the product @param made local time as “2026-01-31 21:04:00” */
export const manifestOf = (
  name: string,
  sounds: readonly PackedSound[],
  version: string,
  made: string,
): PackManifest => ({
  ...({ format: 'dengung-project-1', software: `Dengung ${version}`.trim() } as const),
  ...{ made, name, sounds },
});

const text = () => string().defined().max(2_000);

const shape = object({
  format: string().required(),
  software: text(),
  made: text(),
  name: text(),
  sounds: array()
    .of(
      object({
        audioKey: string().required().min(1).max(200),
        name: text(),
        bytes: number().required().integer().min(0).max(Number.MAX_SAFE_INTEGER),
        sha256: string()
          .nullable()
          .defined()
          .matches(/^[0-9a-f]{64}$/),
        path: string()
          .nullable()
          .defined()
          .matches(/^sounds\/[^/\\]{1,250}$/),
      }).required(),
    )
    .required()
    .max(MOST_PARTS),
});

/** Reads what a pack says of itself. @throws PackError */
export function readManifest(json: string): PackManifest {
  let data: unknown;
  try {
    data = JSON.parse(json);
  } catch {
    throw damagedPack('its list is no JSON');
  }
  const format = (data as { format?: unknown } | null)?.format;
  if (typeof format === 'string' && /^dengung-project-[2-9]\d*$/.test(format))
    throw new PackError(
      'newer',
      'This project file was made by a newer version.',
      'Update, then open it again.',
    );
  if (format !== 'dengung-project-1') throw notAPack();
  try {
    const manifest = shape.validateSync(data, { strict: true }) as unknown as PackManifest;
    const keys = new Set(manifest.sounds.map(({ audioKey }) => audioKey));
    if (keys.size < manifest.sounds.length) throw damagedPack('it lists a sound twice');
    return manifest;
  } catch (error) {
    throw error instanceof ValidationError ? damagedPack(error.message) : error;
  }
}

/** The sounds of a project, each once, in the order of its sources. */
export function soundsOf({ sources }: Pick<Project, 'sources'>): readonly Source[] {
  const byKey = new Map(sources.map((source) => [source.audioKey, source]));
  return [...byKey.values()];
}

/** Where a sound lies in a pack. @param index of it among all */
export const soundPath = ({ name }: Pick<Source, 'name'>, index: number): string =>
  `sounds/${String(index + 1).padStart(4, '0')} ${safeName(name).slice(0, 120)}`;

/** The same with other audio keys, wherever they stand; data of a project and its history. Keys are like nothing else. */
export function withAudioKeys<T>(value: T, keys: ReadonlyMap<Id, Id>): T {
  if (typeof value === 'string') return (keys.get(value) ?? value) as T;
  if (Array.isArray(value)) return value.map((one: unknown) => withAudioKeys(one, keys)) as T;
  if (typeof value !== 'object' || value === null) return value;
  return Object.fromEntries(
    Object.entries(value).map(([key, inner]: [string, unknown]) => [key, withAudioKeys(inner, keys)]),
  ) as T;
}
