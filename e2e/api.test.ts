import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { readdirSync, readFileSync } from 'node:fs';
import { request as ask } from 'node:http';
import { tmpdir } from 'node:os';
import { fileURLToPath } from 'node:url';
import Ajv2020 from 'ajv/dist/2020';
import { afterAll, describe, expect, inject, it } from 'vitest';
import { receiptWords, type Receipt } from '@/core/deliver/receipt';
import { readRecipients, writeRecipients } from '@/core/recipients/recipient';
import { SHIPPED_RECIPIENTS } from '@/core/recipients/shipped';
import { tones } from '@/core/testing/signals';
import { buildCli } from '@/scripts/lib/cli.mjs';
import { figuresOfBytes, TestFiles } from './support/files';

const base = inject('base');
const files = new TestFiles();
afterAll(() => files.remove());

const tone = (name: string, dbfs: number, seconds = 4): Buffer =>
  readFileSync(files.wav(name, tones([{ dbfs, seconds }], 48_000, 2)));
const GOOD = tone('good.wav', -23);
const LOUD = tone('loud.wav', -16);

interface Schema {
  readonly paths: Readonly<
    Record<
      string,
      Readonly<
        Record<
          string,
          {
            readonly responses: Readonly<
              Record<string, { readonly content?: Readonly<Record<string, { readonly schema?: object }>> }>
            >;
          }
        >
      >
    >
  >;
}

const openApi = (await (await fetch(`${base}/api/openapi.json`)).json()) as Schema;
const ajv = new Ajv2020({ strict: false, allowUnionTypes: true });
ajv.addSchema(openApi, 'api');

/** Asks, and holds the answer against the description. @param route as the description has it */
async function call(
  method: 'get' | 'post' | 'put' | 'delete',
  route: string,
  path: string,
  body?: Buffer | string,
  headers: Readonly<Record<string, string>> = {},
): Promise<{ readonly status: number; readonly data: Record<string, unknown> }> {
  const answer = await fetch(base + path, {
    method: method.toUpperCase(),
    ...(body !== undefined && { body: typeof body === 'string' ? body : new Uint8Array(body) }),
    headers: { 'Content-Type': 'application/octet-stream', ...headers },
  });
  const data = (await answer.json()) as Record<string, unknown>;
  const { responses } = openApi.paths[route]![method]!;
  expect(Object.keys(responses), `${method} ${route}: ${JSON.stringify(data).slice(0, 200)}`).toContain(
    String(answer.status),
  );
  const pointer = [
    'paths',
    route,
    method,
    'responses',
    String(answer.status),
    'content',
    'application/json',
    'schema',
  ]
    .map((part) => encodeURIComponent(part.replaceAll('~', '~0').replaceAll('/', '~1')))
    .join('/');
  const validate = ajv.compile({ $ref: `api#/${pointer}` });
  validate(data);
  expect(validate.errors, JSON.stringify(data).slice(0, 300)).toBeNull();
  return { status: answer.status, data };
}

/** Asks with headers that a browser would set by itself. */
const raw = (path: string, headers: Readonly<Record<string, string>>, method = 'GET'): Promise<number> =>
  new Promise((resolve, reject) => {
    const { hostname, port } = new URL(base);
    const asked = ask({ hostname, port, path, method, headers }, (answer) => {
      answer.resume();
      answer.on('end', () => resolve(answer.statusCode!));
    });
    asked.on('error', reject);
    asked.end();
  });

const temporary = (): number =>
  readdirSync(tmpdir()).filter((name) => name.startsWith('dengung-api-')).length;

describe('the server', () => {
  it('tells that it is there, and which targets can be named', async () => {
    expect((await call('get', '/api/health', '/api/health')).data['status']).toBe('ok');
    const { targets } = (await call('get', '/api/targets', '/api/targets')).data as {
      targets: { id: string }[];
    };
    expect(targets.map(({ id }) => id)).toContain('ebu-r128');
  });

  it('measures, checks and levels a file as the command line does', async () => {
    const measured = await call(
      'post',
      '/api/measure',
      '/api/measure?name=loud.wav&target=ebu-r128,aes-td1008-music&findings=1',
      LOUD,
    );
    expect(measured.data).toMatchObject({ file: 'loud.wav', channels: 2, frames: 192_000 });
    const { integratedLufs } = await figuresOfBytes(LOUD);
    expect(measured.data['integratedLufs']).toBe(integratedLufs);
    expect(measured.data['verdicts']).toMatchObject([{ meets: false }, { meets: true }]);
    const checked = await call('post', '/api/check', '/api/check?target=ebu-r128', LOUD);
    expect(checked.data['findings']).toMatchObject([
      { kind: 'integrated', weight: 'breaks' },
      { kind: 'mono', weight: 'look' },
    ]);
    const levelled = await call('post', '/api/level', '/api/level?target=ebu-r128&name=loud.wav', LOUD);
    const report = levelled.data['report'] as { gainDb: number; after: { integratedLufs: number } };
    expect(report.gainDb).toBeCloseTo(-7, 1);
    const file = await fetch(base + String(levelled.data['file']));
    const bytes = new Uint8Array(await file.arrayBuffer());
    expect(file.headers.get('content-disposition')).toContain('loud%20levelled.wav');
    expect((await figuresOfBytes(bytes)).integratedLufs).toBeCloseTo(report.after.integratedLufs, 9);
    // Fetched once, it is gone.
    const again = await call('get', '/api/files/{token}', String(levelled.data['file']));
    expect([again.status, again.data['code']]).toEqual([404, 'noFile']);
  });

  it.each([
    ['/api/measure', '', 'RIFF this is no sound', 422],
    ['/api/measure', '', '', 422],
    ['/api/measure', '?target=nobody', 'x', 422],
    ['/api/check', '', 'x', 422],
    ['/api/level', '?target=ebu-r128&format=8', 'x', 422],
  ] as const)('%s%s with %j is answered %d, with a hint', async (path, query, body, status) => {
    const answer = await call('post', path, path + query, body);
    expect(answer.status).toBe(status);
    expect(String(answer.data['hint']).length).toBeGreaterThan(5);
  });

  it('takes no forms, no pages of other origins and no other name', async () => {
    const form = await call('post', '/api/measure', '/api/measure', 'a=b', {
      'Content-Type': 'application/x-www-form-urlencoded',
    });
    expect(form.status).toBe(415);
    const { host } = new URL(base);
    expect(await raw('/api/health', { host })).toBe(200);
    expect(await raw('/api/health', { host: 'evil.example' })).toBe(403);
    expect(await raw('/api/health', { host, origin: 'https://evil.example' })).toBe(403);
    expect(await raw('/api/measure', { host, 'sec-fetch-site': 'cross-site' }, 'POST')).toBe(403);
    expect(await raw('/api/health', { host, 'x-long': 'x'.repeat(20_000) })).toBe(431);
  });

  it('bears many at a time and bodies that break off, and leaves nothing behind', async () => {
    const before = temporary();
    const { host } = new URL(base);
    const brokenOff = (): Promise<string> =>
      new Promise((resolve) => {
        const { hostname, port } = new URL(base);
        const asked = ask({
          ...{ hostname, port, path: '/api/measure', method: 'POST' },
          headers: { host, 'content-length': '50000000' },
        });
        asked.on('error', () => resolve('broken'));
        asked.write(GOOD.subarray(0, 20_000), () => asked.destroy());
        asked.on('close', () => resolve('broken'));
      });
    const all = Array.from({ length: 12 }, (_, i) =>
      i % 3 === 0
        ? brokenOff()
        : fetch(`${base}/api/measure`, { method: 'POST', body: new Uint8Array(GOOD) }).then(
            (answer) => answer.status,
          ),
    );
    expect(new Set(await Promise.all(all))).toEqual(new Set(['broken', 200]));
    await expect.poll(temporary, { timeout: 20_000 }).toBe(before);
    const health = (await call('get', '/api/health', '/api/health')).data as { queue: object };
    expect(health.queue).toEqual({ running: 0, waiting: 0 });
  });
});

const DELIVERIES = '/api/recipients/{id}/deliveries';
const DELIVERY = `${DELIVERIES}/{delivery}`;
const sha256 = (bytes: Buffer): string => createHash('sha256').update(bytes).digest('hex');

/** Opens a delivery. @returns its path */
async function open(
  id: string,
  name: string,
  bytes: Buffer,
  hash = sha256(bytes),
  set?: string,
): Promise<string> {
  const path = `/api/recipients/${id}/deliveries`;
  const { status, data } = await call(
    'post',
    DELIVERIES,
    path,
    JSON.stringify({ name, bytes: bytes.length, sha256: hash, set }),
  );
  expect(status).toBe(201);
  return `${path}/${String(data['id'])}`;
}

const send = async (path: string, bytes: Buffer, from: number, to = bytes.length) =>
  call('put', DELIVERY, `${path}?offset=${from}`, bytes.subarray(from, to));
const receiptOf = ({ data }: { data: Record<string, unknown> }): Receipt => data['receipt'] as Receipt;

describe('a recipient', () => {
  it('is data that can be copied, changed and read back', async () => {
    const { recipients } = (await call('get', '/api/recipients', '/api/recipients')).data as {
      recipients: unknown;
    };
    expect(recipients).toEqual(JSON.parse(JSON.stringify(SHIPPED_RECIPIENTS)));
    expect(readRecipients(writeRecipients(SHIPPED_RECIPIENTS))).toEqual(SHIPPED_RECIPIENTS);
    expect(readRecipients('{}')).toHaveProperty('error');
  });

  it('accepts what meets all it asks, and answers requirement by requirement where it does not', async () => {
    const good = receiptOf(await send(await open('skerry-video', 'film.wav', LOUD), LOUD, 0));
    // −16 is not what this one asks for: it is told by how much, and what else was looked at.
    const missed = good.requirements.filter(({ meets }) => !meets).map(({ requirement }) => requirement);
    const lufs = (await figuresOfBytes(LOUD)).integratedLufs!;
    const { integratedLufs, toleranceLu } = SHIPPED_RECIPIENTS[1]!.target;
    expect(missed).toEqual(Math.abs(lufs - integratedLufs) <= toleranceLu ? [] : ['Integrated']);
    const quiet = receiptOf(await send(await open('ridgeline-radio', 'too__odd.wav', GOOD), GOOD, 0));
    expect(quiet.accepted).toBe(false);
    expect(quiet.requirements.filter(({ meets }) => !meets).map(({ requirement }) => requirement)).toEqual([
      'Name',
      'Loudness stated in the file',
    ]);
    const broken = Buffer.from('RIFF this is no sound');
    const unread = receiptOf(await send(await open('lantern-podcasts', 'x.wav', broken), broken, 0));
    expect(unread).toMatchObject({ accepted: false, requirements: [{ requirement: 'Can be read' }] });
    const wrong = receiptOf(await send(await open('skerry-video', 'a.wav', GOOD, '0'.repeat(64)), GOOD, 0));
    expect(wrong.requirements[0]).toMatchObject({ requirement: 'Checksum (SHA-256)', meets: false });
  });

  it('takes several files as one delivery, and tells which of them it still waits for', async () => {
    const deliver = async (name: string, bytes: Buffer, set: string): Promise<Receipt> =>
      receiptOf(await send(await open('tarnside-films', name, bytes, undefined, set), bytes, 0));
    const part = (mix: string, music: string) => [
      { part: 'Full mix', state: mix },
      { part: 'Music and effects', state: music },
    ];
    // Too loud for the mix; how loud the other part is, nobody asks.
    const loud = await deliver('Frostline.wav', LOUD, 'reel 1');
    expect([loud.accepted, loud.set]).toEqual([false, part('notAccepted', 'missing')]);
    const music = await deliver('Frostline M&E.wav', LOUD, 'reel 1');
    expect([music.accepted, music.set]).toEqual([true, part('notAccepted', 'accepted')]);
    expect(music.requirements.map(({ requirement }) => requirement)).not.toContain('Integrated');
    const again = await deliver('Frostline.wav', GOOD, 'reel 1');
    expect([again.accepted, again.set]).toEqual([true, part('accepted', 'accepted')]);
    expect(receiptWords(again)).toMatch(/The set is complete\.$/);
    // Another set is another delivery; and without one it cannot be.
    expect((await deliver('Frostline.wav', GOOD, 'reel 2')).set).toEqual(part('accepted', 'missing'));
    const alone = await call(
      'post',
      DELIVERIES,
      '/api/recipients/tarnside-films/deliveries',
      JSON.stringify({ name: 'Frostline.wav', bytes: GOOD.length, sha256: sha256(GOOD) }),
    );
    expect([alone.status, alone.data['code']]).toEqual([422, 'setMissing']);
  });

  it('answers every method of every route, and keeps what waits to be fetched', async () => {
    const levelled = await call('post', '/api/level', '/api/level?target=ebu-r128&name=loud.wav', LOUD);
    const file = String(levelled.data['file']);
    const before = temporary();
    const paths = ['/', '/api/health', '/api/check', '/api/recipients', file, '/api/nothing', '*'];
    for (const method of ['HEAD', 'OPTIONS', 'TRACE', 'DELETE', 'PUT', 'PATCH', 'PROPFIND'])
      for (const path of paths) {
        const status = await raw(path, { host: new URL(base).host }, method);
        expect(status, `${method} ${path}`).toBeLessThan(500);
      }
    expect(await raw('*', {})).toBe(400);
    expect(temporary()).toBe(before);
    const bytes = await (await fetch(base + file)).arrayBuffer();
    expect(bytes.byteLength).toBeGreaterThan(LOUD.length / 2);
  });

  it('goes on where the line broke; is full, slow and late when it is told to', async () => {
    const trouble = (body: object) =>
      call(
        'put',
        '/api/recipients/{id}/trouble',
        '/api/recipients/skerry-video/trouble',
        JSON.stringify(body),
      );
    const endless = await call(
      'post',
      DELIVERIES,
      '/api/recipients/skerry-video/deliveries',
      ' '.repeat(20_000),
    );
    expect([endless.status, endless.data['code']]).toEqual([413, 'tooLarge']);
    await trouble({ full: true });
    const full = await call(
      'post',
      DELIVERIES,
      '/api/recipients/skerry-video/deliveries',
      JSON.stringify({ name: 'a', bytes: 1, sha256: '0'.repeat(64) }),
    );
    expect([full.status, full.data['code']]).toEqual([507, 'full']);
    await trouble({ dropAfterBytes: 100_000, lateSeconds: 0.2 });
    const path = await open('skerry-video', 'film.wav', GOOD);
    // The line is gone before an answer comes, or with it.
    expect(
      await send(path, GOOD, 0).then(
        ({ status }) => status,
        () => 503,
      ),
    ).toBe(503);
    const { received } = (await call('get', DELIVERY, path)).data as { received: number };
    expect(received).toBeGreaterThanOrEqual(100_000);
    expect(received).toBeLessThan(GOOD.length);
    expect((await send(path, GOOD, 0)).status).toBe(409);
    const done = await send(path, GOOD, received);
    expect(receiptOf(done).sha256).toBe(sha256(GOOD));
    // The receipt can be asked for again; the file is gone.
    expect(receiptOf(await call('get', DELIVERY, path))).toEqual(receiptOf(done));
    await trouble({});
    expect((await trouble({ full: 'yes' })).status).toBe(422);
    await call('delete', DELIVERY, path);
    expect((await call('get', DELIVERY, path)).status).toBe(404);
  });

  it('is sent to from the command line as well', async () => {
    const path = files.write('film.wav', LOUD);
    const root = fileURLToPath(new URL('..', import.meta.url));
    const program = await buildCli();
    const dengung = (...args: string[]) =>
      spawnSync(process.execPath, [program, 'send', '--server', base, ...args], {
        encoding: 'utf8',
        env: { ...process.env, DENGUNG_ROOT: root },
      });
    const { status, stdout } = dengung('--to', 'lantern-podcasts', '--json', path);
    const receipt = JSON.parse(stdout) as Receipt;
    // Four seconds are no episode.
    expect([status, receipt.accepted]).toEqual([1, false]);
    expect(receipt.requirements.filter(({ meets }) => !meets).map(({ requirement }) => requirement)).toEqual([
      'Length',
    ]);
    expect(receipt.sha256).toBe(sha256(LOUD));
    const nobody = dengung('--to', 'nobody', path);
    expect([nobody.status, nobody.stderr]).toEqual([
      1,
      expect.stringContaining('There is no recipient “nobody”'),
    ]);
  });
});
