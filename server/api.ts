import { join } from 'node:path';
import { DECLARABLE } from '@/core/audio/layout';
import { SHIPPED_TARGETS } from '@/core/check/shipped';
import type { Target } from '@/core/check/target';
import { ApiError } from './apiError';
import { inFolder, newFolder, removeFolder } from './folders';
import { hold } from './held';
import { queueLength, runJob } from './jobs';
import { sentName, takeIn } from './receive';
import { json } from './respond';

const version = (): string => process.env['DENGUNG_VERSION'] ?? '';

const query = (request: Request): URLSearchParams => new URL(request.url).searchParams;

const targetNamed = (id: string): Target => {
  const target = SHIPPED_TARGETS.find((one) => one.id === id);
  if (target) return target;
  throw new ApiError(422, 'noSuchTarget', `There is no target “${id}”.`, 'See GET /api/targets.');
};

/** Targets named by their ids, parted by commas. */
function targetsIn(request: Request, least: number): readonly Target[] {
  const named = (query(request).get('target') ?? '').split(',').flatMap((id) => id.trim() || []);
  if (named.length < least)
    throw new ApiError(422, 'noTarget', 'No target is named.', 'Add ?target=ID; see GET /api/targets.');
  return [...new Set(named)].map(targetNamed);
}

/** The layout that is declared for a file; `null` where none is. */
function layoutIn(request: Request): string | null {
  const id = query(request).get('layout');
  if (id === null || DECLARABLE.some((layout) => layout.id === id)) return id;
  const known = DECLARABLE.map((layout) => layout.id).join(', ');
  throw new ApiError(422, 'noSuchLayout', `There is no layout “${id}”.`, `There are ${known}.`);
}

const flag = (request: Request, name: string): boolean =>
  ['1', 'true'].includes(query(request).get(name) ?? '');

export const health = (): Promise<Response> =>
  Promise.resolve(json({ status: 'ok', software: 'Dengung', version: version(), queue: queueLength() }));

export const targets = (): Promise<Response> => Promise.resolve(json({ targets: SHIPPED_TARGETS }));

/** `POST /api/measure?name=&target=ID,ID&findings=1&layout=ID` */
export const measure = (request: Request): Promise<Response> =>
  inFolder(async (folder) => {
    const named = targetsIn(request, flag(request, 'findings') ? 1 : 0);
    const layoutId = layoutIn(request);
    const name = sentName(query(request).get('name'));
    const { path } = await takeIn(request, folder, name);
    const findings = flag(request, 'findings');
    const job = { kind: 'measure', path, name, targets: named, findings, layoutId } as const;
    return json(await runJob(job, request.signal));
  });

/** `POST /api/check?name=&target=ID,ID&layout=ID` */
export const check = (request: Request): Promise<Response> =>
  inFolder(async (folder) => {
    const named = targetsIn(request, 1);
    const layoutId = layoutIn(request);
    const name = sentName(query(request).get('name'));
    const { path } = await takeIn(request, folder, name);
    return json(await runJob({ kind: 'check', path, name, targets: named, layoutId }, request.signal));
  });

const FORMATS = ['24', 'float'] as const;

/** `POST /api/level?name=&target=ID&limit=1&format=24|float` */
export async function level(request: Request): Promise<Response> {
  const [target] = targetsIn(request, 1);
  const wanted = query(request).get('format');
  const format = FORMATS.find((one) => one === wanted) ?? null;
  if (wanted !== null && format === null)
    throw new ApiError(
      422,
      'noSuchFormat',
      '“format” is 24 or float.',
      'Leave it out to keep the file’s own.',
    );
  const name = sentName(query(request).get('name'));
  // It outlives this answer: until it is fetched.
  const kept = await newFolder();
  try {
    return await inFolder(async (folder) => {
      const { path } = await takeIn(request, folder, name);
      const out = join(kept, 'levelled.wav');
      const report = await runJob(
        {
          ...({ kind: 'level', path, name, target: target!, limit: flag(request, 'limit') } as const),
          ...{ float: format === null ? null : format === 'float', out },
        },
        request.signal,
      );
      const token = await hold(kept, out, `${name.replace(/\.[^.]{1,5}$/, '')} levelled.wav`);
      return json({ report, file: `/api/files/${token}` });
    });
  } catch (error) {
    await removeFolder(kept);
    throw error;
  }
}
