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
