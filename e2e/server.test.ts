import { gzipSync } from 'node:zlib';
import { request } from 'node:http';
import { describe, expect, inject, it } from 'vitest';

interface Answer {
  readonly status: number;
  readonly headers: Readonly<Record<string, string | string[] | undefined>>;
}

/** Asks for a path just as it is, without anybody putting it in order first. */
function get(path: string): Promise<Answer> {
  const { hostname, port } = new URL(inject('base'));
  return new Promise((resolve, reject) => {
    const asked = request({ hostname, port, path }, (answer) => {
      answer.resume();
      answer.on('end', () => resolve({ status: answer.statusCode!, headers: answer.headers }));
    });
    asked.on('error', reject);
    asked.end();
  });
}

describe('every answer has its headers', () => {
  it.each([
    ['/projects', 200],
    ['/project/nobody/sources', 200],
    ['/project/%ff/sources', 400],
    ['/%ff', 400],
    ['/project/%', 400],
    ['/nothing', 404],
    ['/demo/nothing', 404],
    ['/demo/nothing.wav', 404],
    ['/iconic', 404],
    ['/_next/nothing', 404],
    ['/api/health', 200],
    ['/api/nothing', 404],
    ['/api/files/nothing', 404],
  ])('%s', async (path, status) => {
    const { status: answered, headers } = await get(path);
    expect(answered).toBe(status);
    expect(headers['content-security-policy']).toMatch(/^default-src 'none'/);
    expect(headers['x-content-type-options']).toBe('nosniff');
    expect(headers['cross-origin-opener-policy']).toBe('same-origin');
    expect(headers['cross-origin-embedder-policy']).toBe('require-corp');
  });
});

describe('a first visit', () => {
  it('ships at most 350 KB of script, compressed, before the first project shows', async () => {
    const base = inject('base');
    const page = await (await fetch(`${base}/projects`)).text();
    const scripts = [...page.matchAll(/<script[^>]+src="(\/_next\/static\/[^"]+\.js)"[^>]*>/g)]
      // For browsers of long ago; those that know modules do not fetch them.
      .filter(([tag]) => !/nomodule/i.test(tag))
      .map(([, path]) => path!);
    expect(scripts.length).toBeGreaterThan(5);
    const sizes = await Promise.all(
      [...new Set(scripts)].map(
        async (path) => gzipSync(Buffer.from(await (await fetch(base + path)).arrayBuffer())).length,
      ),
    );
    expect(sizes.reduce((sum, size) => sum + size, 0)).toBeLessThanOrEqual(350 * 1024);
  });
});
