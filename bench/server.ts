import { spawn } from 'node:child_process';
import { readdirSync, readFileSync } from 'node:fs';
import { request } from 'node:http';
import { createServer, type AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { layoutFor } from '@/core/audio/layout';
import { encodePcm } from '@/core/audio/pcm';
import { wavFrame } from '@/core/formats/wav/write';
import { noise } from '@/core/testing/signals';

const REQUESTS = 200;
const AT_A_TIME = 20;
/** One in so many breaks off in the middle of its body. */
const BREAKS_OFF = 4;
const RATE = 48_000;

const freePort = (): Promise<number> =>
  new Promise((resolve) => {
    const probe = createServer();
    probe.listen(0, '127.0.0.1', () => {
      const { port } = probe.address() as AddressInfo;
      probe.close(() => resolve(port));
    });
  });

/** Memory that a process holds, MB; 0 once it is gone. */
function memoryOf(pid: number): number {
  try {
    return Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? 0) / 1024;
  } catch {
    return 0;
  }
}

function childrenOf(pid: number): number[] {
  try {
    return readFileSync(`/proc/${pid}/task/${pid}/children`, 'utf8').split(' ').filter(Boolean).map(Number);
  } catch {
    return [];
  }
}

const folders = (): number => readdirSync(tmpdir()).filter((name) => name.startsWith('dengung-api-')).length;

/** Sends a body in pieces. @param stopAt breaks off after so many bytes @returns the status; 0 where it broke off */
function send(
  port: number,
  head: Uint8Array,
  piece: Uint8Array,
  pieces: number,
  stopAt = Infinity,
): Promise<number> {
  return new Promise((resolve) => {
    const length = head.length + pieces * piece.length;
    const asked = request(
      {
        ...{ host: '127.0.0.1', port, path: '/api/measure?name=body.wav', method: 'POST' },
        headers: { 'content-length': length, 'content-type': 'application/octet-stream' },
      },
      (answer) => {
        answer.resume();
        answer.on('end', () => resolve(answer.statusCode ?? 0));
      },
    );
    asked.on('error', () => resolve(0));
    let sent = 0;
    let k = 0;
    const more = (): void => {
      for (; k < pieces; k++) {
        if (sent > stopAt) return void asked.destroy();
        sent += piece.length;
        if (!asked.write(piece)) {
          k++;
          return void asked.once('drain', more);
        }
      }
      asked.end();
    };
    asked.write(head);
    more();
  });
}

/** The server under many requests, some of which break off, and with one large body. */
export async function benchServer(gigabytes: number): Promise<string[]> {
  const port = await freePort();
  const server = spawn(process.execPath, ['scripts/serve.mjs', '127.0.0.1', String(port)], {
    stdio: 'ignore',
    env: { ...process.env, NODE_ENV: 'production' },
  });
  const pid = server.pid!;
  let most = 0;
  let mostChild = 0;
  const timer = setInterval(() => {
    most = Math.max(most, memoryOf(pid));
    for (const child of childrenOf(pid)) mostChild = Math.max(mostChild, memoryOf(child));
  }, 50);
  try {
    for (let i = 0; i < 100; i++) {
      const up = await fetch(`http://127.0.0.1:${port}/api/health`).then(
        ({ ok }) => ok,
        () => false,
      );
      if (up) break;
      await new Promise((resolve) => setTimeout(resolve, 200));
    }
    const layout = layoutFor(2);
    const second = [noise(RATE, 0.1, 1), noise(RATE, 0.1, 2)];
    const piece = encodePcm(second, RATE, 's24').bytes;
    const headOf = (seconds: number): Uint8Array =>
      wavFrame({ sampleRate: RATE, layout, format: 's24', frames: seconds * RATE }).header;
    const before = folders();
    await send(port, headOf(10), piece, 10);
    const settled = memoryOf(pid);
    const started = performance.now();
    const statuses = new Map<number, number>();
    let next = 0;
    await Promise.all(
      Array.from({ length: AT_A_TIME }, async () => {
        while (next < REQUESTS) {
          const i = next++;
          const stopAt = i % BREAKS_OFF === 0 ? ((i * 7919) % 10) * piece.length : Infinity;
          const status = await send(port, headOf(10), piece, 10, stopAt);
          statuses.set(status, (statuses.get(status) ?? 0) + 1);
        }
      }),
    );
    const seconds = (performance.now() - started) / 1000;
    const many = most;
    most = 0;
    mostChild = 0;
    const long = Math.floor((gigabytes * 1e9) / piece.length);
    const began = performance.now();
    const status = await send(port, headOf(long), piece, long);
    const took = (performance.now() - began) / 1000;
    const told = [...statuses]
      .map(([code, count]) => `${count} × ${code === 0 ? 'broken off' : code}`)
      .join(', ');
    return [
      `Server: ${REQUESTS} requests of 10 s, ${AT_A_TIME} at a time: ${told}; ${(REQUESTS / seconds).toFixed(1)} a second`,
      `  its memory ${settled.toFixed(0)} MB before, ${many.toFixed(0)} MB at most; folders left: ${folders() - before}`,
      `  a body of ${gigabytes} GB (${(long / 3600).toFixed(1)} h): ${status}, ${(long / took).toFixed(0)} × real time; memory ${most.toFixed(0)} MB, its worker ${mostChild.toFixed(0)} MB at most`,
    ];
  } finally {
    clearInterval(timer);
    server.kill();
  }
}
