import { mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { request } from 'node:http';
import { connect } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { startServer } from './support/server';

/** All of its own, for temporary files. */
const folder = mkdtempSync(join(tmpdir(), 'dengung-limits-'));
let server: Awaited<ReturnType<typeof startServer>>;
beforeAll(async () => {
  server = await startServer({ DENGUNG_PATIENCE_MS: '700', TMPDIR: folder });
});
afterAll(() => {
  server?.stop();
  rmSync(folder, { recursive: true, force: true });
});

const folders = (): string[] => readdirSync(folder).filter((name) => name.startsWith('dengung-api-'));

/** Sends a body by drops, as long as somebody takes it. @returns the answer */
function drip(path: string, everyMs: number): Promise<{ status: number; code: string }> {
  return new Promise((resolve, reject) => {
    const asked = request(
      `${server.base}${path}`,
      { method: 'POST', headers: { 'content-type': 'application/octet-stream', 'content-length': 100_000 } },
      (answer) => {
        clearInterval(timer);
        let text = '';
        answer.on('data', (piece: Buffer) => (text += piece.toString()));
        answer.on('end', () =>
          resolve({ status: answer.statusCode!, code: (JSON.parse(text) as { code: string }).code }),
        );
      },
    );
    asked.on('error', reject);
    asked.flushHeaders();
    const timer = setInterval(() => asked.write('x'), everyMs);
  });
}

describe('a server that is held up', () => {
  it('gives up bodies that come by drops, or not at all, and leaves nothing of them', async () => {
    const answers = await Promise.all([
      drip('/api/measure?name=a.wav', 40),
      drip('/api/measure?name=b.wav', 60_000),
    ]);
    expect(answers).toEqual([
      { status: 408, code: 'stalled' },
      { status: 408, code: 'stalled' },
    ]);
    expect(folders()).toEqual([]);
    expect((await fetch(`${server.base}/api/health`)).status).toBe(200);
  });

  it('refuses headers without end', async () => {
    const answer = await new Promise<string>((resolve, reject) => {
      const socket = connect(Number(new URL(server.base).port), '127.0.0.1', () => {
        socket.write(`GET /api/health HTTP/1.1\r\nHost: 127.0.0.1\r\nX-Long: ${'x'.repeat(40_000)}\r\n\r\n`);
      });
      let text = '';
      socket.on('data', (piece) => (text += piece.toString()));
      socket.on('close', () => resolve(text));
      socket.on('error', reject);
    });
    expect(answer).toMatch(/^HTTP\/1\.1 431 /);
  });

  it('takes so many connections and no more, and those that come later', async () => {
    const port = Number(new URL(server.base).port);
    const sockets = await Promise.all(
      Array.from(
        { length: 520 },
        () =>
          new Promise<{ socket: ReturnType<typeof connect>; closed: () => boolean }>((resolve) => {
            let closed = false;
            const socket = connect(port, '127.0.0.1', () => resolve({ socket, closed: () => closed }));
            socket.on('close', () => (closed = true));
            socket.on('error', () => (closed = true));
          }),
      ),
    );
    // Those beyond the limit are taken by the system and closed by the server: that takes it a moment.
    await expect
      .poll(() => sockets.filter(({ closed }) => !closed()).length, { timeout: 60_000 })
      .toBeLessThanOrEqual(512);
    for (const { socket } of sockets) socket.destroy();
    for (let tries = 0; ; tries++) {
      const answered = await fetch(`${server.base}/api/health`).then(
        ({ status }) => status,
        () => null,
      );
      if (answered === 200) break;
      expect(tries).toBeLessThan(50);
      await new Promise((resolve) => setTimeout(resolve, 100));
    }
  });
});
