import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { bytesSource } from '@/core/audio/byteSource';
import { openPcm } from '@/core/formats/openPcm';
import { figuresOf } from '@/core/loudness/figures';
import { measureReader } from '@/core/loudness/measureReader';
import { noise } from '@/core/testing/signals';
import { clip, cutText, gap } from './testing/cuts';
import { workplace } from './testing/workplace';

const { folder, write, dengung } = await workplace('plan');
const RATE = 48_000;
const at = (path: string): string => join(folder, path);

/** Noise that is about so loud, with claps in it. */
const sound = (seconds: number, level: number, seed: number, clap = 0): Float32Array[] => {
  const x = noise(seconds * RATE, level, seed);
  const claps = noise(seconds * RATE, clap, seed + 1);
  const made = x.map((value, i) => value + (i % 30_000 < 150 ? claps[i]! : 0));
  return [made, made];
};
write('media/voice.wav', sound(8, 0.02, 5, 0.5));
writeFileSync(at('cut.otio'), cutText([clip('voice.wav', 0, 200, 0, 200)]));

interface Report {
  readonly programme: { readonly integratedLufs: number; readonly truePeakDbtp: number };
  readonly plan: {
    readonly steps: readonly {
      readonly part: string;
      readonly goal: number | null;
      readonly sentence: string;
    }[];
    readonly shiftDb: number;
    readonly sentence: string;
    readonly limiter: { readonly maxReductionDb: number } | null;
  };
}

const render = (...args: string[]) =>
  dengung('render', '--media', 'media', '--out', 'out.wav', ...args, 'cut.otio');
const withPlan = ['--plan', 'speech.plan.json', '--target', 'ebu-r128'] as const;

describe('a plan carried out on a cut', () => {
  it('begins from the one that is printed, and says what it did', async () => {
    const printed = dengung('plan');
    expect(printed.code).toBe(0);
    writeFileSync(at('speech.plan.json'), printed.out);
    const { code, out } = render(...withPlan, '--json');
    expect(code).toBe(0);
    const { plan } = JSON.parse(out) as Report;
    expect(plan.limiter).toBeNull();
    expect(plan.steps.find(({ part }) => part === 'dialogue')).toMatchObject({ goal: -23 });
    expect(plan.sentence).not.toBe('');
    const measured = await measureReader(await openPcm(bytesSource(readFileSync(at('out.wav')))), () => true);
    expect(figuresOf(measured!.history).truePeakDbtp!).toBeLessThanOrEqual(-0.99);
  });

  it('reaches the target through a limiter where gain alone cannot', () => {
    const alone = JSON.parse(render(...withPlan, '--json').out) as Report;
    const limited = JSON.parse(render(...withPlan, '--limit', '--json').out) as Report;
    expect(alone.programme.integratedLufs).toBeLessThan(-24);
    expect(Math.abs(limited.programme.integratedLufs + 23)).toBeLessThan(0.015);
    expect(limited.programme.truePeakDbtp).toBeLessThanOrEqual(-0.99);
    expect(limited.plan.limiter!.maxReductionDb).toBeGreaterThan(1);
    expect(limited.plan.sentence).toMatch(/The limiter takes up to/);
  });

  it('gives tracks the roles that are named, and tells which there are not', () => {
    const roles = (list: string) => render(...withPlan, '--roles', list);
    const music = roles('Voices=music');
    expect(music.out).toMatch(/Music alone: To −27\.0 LUFS/);
    const unknown = roles('Choir=music');
    expect(unknown.code).toBe(1);
    expect(unknown.err).toMatch(/no track “Choir”; it has “/);
    expect(roles('Voices=choir').code).toBe(2);
    expect(render('--roles', 'Voices=music').code).toBe(2);
    expect(render('--plan', 'speech.plan.json').code).toBe(2);
    expect(dengung('help', 'plan').out).toMatch(
      /relativeLu: number from -60 to 20; LU relative to the target/,
    );
  });

  it('has music step aside under the speech that it finds, within one clip', () => {
    const spoken = readFileSync(new URL('../public/demo/narrator-5-morning.wav', import.meta.url));
    writeFileSync(at('media/narrator.wav'), spoken);
    write('media/theme.wav', sound(30, 0.2, 9));
    writeFileSync(
      at('film.otio'),
      cutText([gap(200), clip('narrator.wav', 0, 250)], [clip('theme.wav', 0, 750, 0, 750)]),
    );
    const args = ['--media', 'media', '--out', 'film.wav', ...withPlan];
    const roles = ['--roles', 'Voices=narration,Music=music'];
    const { code, out, err } = dengung('render', ...args, ...roles, '--find-speech', 'film.otio');
    expect(err).not.toMatch(/Error/);
    expect(code).toBe(0);
    expect(out).toMatch(
      /theme: Alone: .*−27\.0 LUFS.* Under speech \(1 place\): −\d+\.\d dB more, to −41\.0 LUFS/,
    );
  });
});
