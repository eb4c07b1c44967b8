import { describe, expect, it } from 'vitest';
import { crossfade, joinAfter } from '@/core/programme/edits/crossfades';
import { renderRange } from '@/core/signal/mix';
import type { OpenSource } from '@/core/signal/source';
import { openTestSource, testClip, testProject } from '@/core/testing/projects';
import { memoryReader, noise } from '@/core/testing/signals';
import { correlationAt } from './correlation';

const [FROM, TO] = [40_000, 56_000];

/** Two clips that touch at 1 s; the second begins in its source where `sourceStart` says. */
function joined(sourceStart: number, sourceId = 's1') {
  const before = testClip({ id: 'a', sourceId: 's1', length: 48_000, fadeIn: 100 });
  const after = testClip({ id: 'b', sourceId, start: 48_000, sourceStart, length: 80_000 });
  const project = testProject([before, after]);
  return { project, join: joinAfter(project, before)! };
}

const energy = (channels: Float32Array[]): number =>
  channels.reduce((sum, x) => sum + x.reduce((a, b) => a + b * b, 0), 0);

describe('the correlation of two sounds that cross', () => {
  it('is 1 where a clip goes on as itself, and near 0 for sounds that have nothing in common', async () => {
    const same = joined(48_000);
    expect(await correlationAt(same.project, same.join, FROM, TO, openTestSource)).toBeCloseTo(1, 6);
    const others = joined(60_000);
    const rho = await correlationAt(others.project, others.join, FROM, TO, openTestSource);
    expect(Math.abs(rho!)).toBeLessThan(0.1);
  });

  it('gives a crossfade in which the level neither dips nor rises, whatever they have in common', async () => {
    const [one, other] = [noise(192_000, 0.3, 5), noise(192_000, 0.3, 77)];
    for (const common of [-0.5, 0, 0.6, 0.95]) {
      const rest = Math.sqrt(1 - common * common);
      const mixed = one.map((x, i) => common * x + rest * other[i]!);
      const sounds = new Map([
        ['s1', memoryReader([one, one], 48_000)],
        ['s0', memoryReader([mixed], 48_000)],
      ]);
      const open: OpenSource = (source) => Promise.resolve(sounds.get(source.id)!);
      // In step: the same place of both where they cross.
      const { project, join } = joined(48_000, 's0');
      const full = { ...project, monoLaw: 'full' as const };
      const rho = (await correlationAt(full, join, FROM, TO, open))!;
      expect(rho).toBeCloseTo(common, 1);
      const crossed = crossfade(full, join, FROM, TO, rho);
      for (let from = 30_000; from < 62_000; from += 4_000) {
        const level = 10 * Math.log10(energy(await renderRange(crossed, open, from, 4_000)) / 8_000);
        expect(Math.abs(level - 10 * Math.log10((0.3 * 0.3) / 3))).toBeLessThan(0.35);
      }
    }
  });

  it('is unknown in silence', async () => {
    const { project, join } = joined(48_000);
    const silent = { ...join.before, curve: [{ at: 0, db: -120 }] };
    const clips = [silent, project.clips[1]!];
    const quiet = { ...project, clips };
    expect(await correlationAt(quiet, joinAfter(quiet, silent)!, FROM, TO, openTestSource)).toBeNull();
  });
});
