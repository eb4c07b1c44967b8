import { existsSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { recipients } from './recipients';
import { deliveryState, openDelivery } from './deliveries';
import { count, newFolder, removeFolder } from './folders';
import { admit } from './gate';
import { handOut, hold } from './held';
import { loggedPath } from './log';
import { takeIn, writeAll } from './receive';
import { respond } from './respond';

const env = { ...process.env };
afterEach(() => {
  process.env = { ...env };
  vi.restoreAllMocks();
  vi.useRealTimers();
});

const from = (host: string, headers: Record<string, string> = {}): Request =>
  new Request(`http://${host}/api/measure`, { headers: { host, ...headers } });

describe('who is let in', () => {
  it('nobody without a key, where nobody has said that only this machine is listened to', () => {
    delete process.env['DENGUNG_LISTENS'];
    delete process.env['DENGUNG_KEY'];
    // A request from elsewhere can call itself by any host.
    expect(() => admit(from('localhost:3000'))).toThrow(/Without a key/);
    process.env['DENGUNG_LISTENS'] = '0.0.0.0';
    expect(() => admit(from('localhost:3000'))).toThrow(/Without a key/);
    process.env['DENGUNG_LISTENS'] = '127.0.0.1';
    expect(() => admit(from('localhost:3000'))).not.toThrow();
  });

  it('whoever shows the key, and nobody else, once there is one', () => {
    process.env['DENGUNG_LISTENS'] = '127.0.0.1';
    process.env['DENGUNG_KEY'] = 'secret';
    expect(() => admit(from('127.0.0.1'))).toThrow(/key is missing/);
    expect(() => admit(from('127.0.0.1', { authorization: 'Bearer secret' }))).not.toThrow();
    expect(() =>
      admit(from('127.0.0.1', { authorization: 'Bearer secret', origin: 'http://elsewhere' })),
    ).toThrow(/other origins/);
  });
});

describe('a disk that is nearly full', () => {
  it('takes a piece in parts, all of which are written, in order', async () => {
    const disk: number[] = [];
    const handle = {
      write: (bytes: Uint8Array, offset: number, length: number, at: number) => {
        const bytesWritten = Math.min(3, length);
        for (let i = 0; i < bytesWritten; i++) disk[at + i] = bytes[offset + i]!;
        return Promise.resolve({ bytesWritten, buffer: bytes });
      },
    };
    await writeAll(handle as never, Uint8Array.of(1, 2, 3, 4, 5, 6, 7), 2);
    expect(disk.slice(2)).toEqual([1, 2, 3, 4, 5, 6, 7]);
  });

  it.each([
    ['that takes nothing any more', () => Promise.resolve({ bytesWritten: 0 })],
    ['that says so', () => Promise.reject(Object.assign(new Error('no space'), { code: 'ENOSPC' }))],
  ])('%s is 507, never a verdict over a part', async (_, write) => {
    await expect(writeAll({ write } as never, Uint8Array.of(1), 0)).rejects.toMatchObject({ status: 507 });
  });

  it('so is one folder too many for all that may lie here', async () => {
    process.env['DENGUNG_MOST_TOTAL_BYTES'] = '100';
    const [a, b] = [await newFolder(), await newFolder()];
    count(a, 60);
    expect(() => count(b, 50)).toThrow(expect.objectContaining({ status: 507 }) as Error);
    await removeFolder(a);
    expect(() => count(b, 50)).not.toThrow();
    await removeFolder(b);
  });

  it('a body shorter than it was said to be is refused', async () => {
    const folder = await newFolder();
    const request = new Request('http://x/api/check', { method: 'POST', body: 'four' });
    request.headers.set('content-length', '10');
    await expect(takeIn(request, folder, 'a.wav')).rejects.toMatchObject({ code: 'brokenOff' });
    await removeFolder(folder);
  });
});

describe('a file that waits to be fetched', () => {
  const kept = async () => {
    const folder = await newFolder();
    const path = join(folder, 'made.wav');
    writeFileSync(path, Buffer.alloc(3_000_000, 7));
    return { folder, token: await hold(folder, path, "it's (made).wav") };
  };

  it('is not taken by whoever asks only about it', async () => {
    const { folder, token } = await kept();
    const head = await handOut(token, 'headers');
    expect([head.headers.get('content-length'), head.body]).toEqual(['3000000', null]);
    expect(head.headers.get('content-disposition')).toContain("UTF-8''it%27s%20%28made%29.wav");
    expect(existsSync(folder)).toBe(true);
    expect((await (await handOut(token)).arrayBuffer()).byteLength).toBe(3_000_000);
  });

  it('can be fetched again where a download broke off, and is gone after a whole one', async () => {
    const { folder, token } = await kept();
    const reader = (await handOut(token)).body!.getReader();
    await reader.read();
    await reader.cancel();
    expect(existsSync(folder)).toBe(true);
    await (await handOut(token)).arrayBuffer();
    await vi.waitFor(() => expect(existsSync(folder)).toBe(false));
    await expect(handOut(token)).rejects.toMatchObject({ status: 404 });
  });
});

describe('deliveries that nobody goes on with', () => {
  const recipient = recipients().find(({ set }) => set === null)!;
  const open = async (): Promise<string> => {
    const body = JSON.stringify({ name: 'a.wav', bytes: 10, sha256: '0'.repeat(64) });
    const request = new Request('http://x/', { method: 'POST', body });
    return ((await (await openDelivery(request, recipient)).json()) as { id: string }).id;
  };

  it('give way once they have stood for a while, and block nobody for longer', async () => {
    const start = Date.now();
    const now = vi.spyOn(Date, 'now');
    now.mockReturnValue(start);
    const ids: string[] = [];
    for (let i = 0; i < 64; i++) ids.push(await open());
    await expect(open()).rejects.toMatchObject({ status: 429 });
    now.mockReturnValue(start + 31_000);
    const next = await open();
    expect(() => deliveryState(recipient, ids[0]!)).toThrow();
    expect(deliveryState(recipient, next).status).toBe(200);
  });
});

describe('the log', () => {
  it('has what went wrong inside, which the answer does not tell, and nothing that gives access', async () => {
    process.env['DENGUNG_LISTENS'] = '127.0.0.1';
    delete process.env['DENGUNG_KEY'];
    const lines: string[] = [];
    vi.spyOn(process.stderr, 'write').mockImplementation((line) => lines.push(String(line)) > 0);
    const answer = await respond(from('127.0.0.1'), () => Promise.reject(new Error('a secret place')));
    expect([answer.status, await answer.text()]).toEqual([500, expect.not.stringContaining('secret')]);
    const [line] = lines.map((text) => JSON.parse(text) as Record<string, unknown>);
    expect(line).toMatchObject({
      level: 'error',
      event: 'request',
      path: '/api/measure',
      error: 'a secret place',
    });
    expect(loggedPath(`http://x/api/files/${'ab'.repeat(24)}`)).toBe('/api/files/…');
  });
});
