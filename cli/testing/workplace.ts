import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterAll } from 'vitest';
import { layoutFor, type Layout } from '@/core/audio/layout';
import { encodePcm, type WriteFormat } from '@/core/audio/pcm';
import { wavFrame } from '@/core/formats/wav/write';
import { buildCli } from '@/scripts/lib/cli.mjs';

/** What a run of the program came to. */
export interface Ran {
  readonly code: number;
  readonly out: string;
  readonly err: string;
}

/** A folder of its own for the tests of one file, and the program that works in it. */
export async function workplace(name: string) {
  const root = fileURLToPath(new URL('../..', import.meta.url));
  const program = await buildCli();
  const folder = mkdtempSync(join(tmpdir(), `dengung-${name}-`));
  afterAll(() => rmSync(folder, { recursive: true, force: true }));
  const own = { DENGUNG_CWD: folder, DENGUNG_ROOT: root };
  const env = { ...process.env, ...own };
  return {
    root,
    folder,
    /** Writes a WAV file. @returns its path within the folder */
    write(
      path: string,
      channels: Float32Array[],
      format: WriteFormat = 's24',
      layout: Layout = layoutFor(channels.length),
    ): string {
      const frames = channels[0]!.length;
      const { header, trailer } = wavFrame({ sampleRate: 48_000, layout, format, frames });
      mkdirSync(dirname(join(folder, path)), { recursive: true });
      const { bytes } = encodePcm(channels, frames, format);
      writeFileSync(join(folder, path), Buffer.concat([header, bytes, trailer]));
      return path;
    },
    /** Runs the program to its end; what hangs fails after a minute. */
    dengung(...args: string[]): Ran {
      const { status, stdout, stderr } = spawnSync(process.execPath, [program, ...args], {
        encoding: 'utf8',
        env,
        timeout: 60_000,
        maxBuffer: 64 * 1024 * 1024,
      });
      return { code: status ?? -1, out: stdout, err: stderr };
    },
    /** Runs a line of the shell in the folder, with the program as `$DENGUNG`. */
    shell(line: string): Ran {
      const { status, stdout, stderr } = spawnSync('bash', ['-c', line], {
        encoding: 'utf8',
        cwd: folder,
        env: { ...env, DENGUNG: `${process.execPath} ${program}` },
        timeout: 60_000,
      });
      return { code: status ?? -1, out: stdout, err: stderr };
    },
    /** Starts the program and lets it run. */
    start: (...args: string[]): ChildProcess =>
      spawn(process.execPath, [program, ...args], {
        env: { ...process.env, ...own },
        stdio: ['ignore', 'pipe', 'pipe'],
      }),
  };
}
