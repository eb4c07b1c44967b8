import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { run } from './run';

let out = '';
let err = '';
beforeEach(() => {
  [out, err] = ['', ''];
  vi.spyOn(process.stdout, 'write').mockImplementation((text) => Boolean((out += String(text))));
  vi.spyOn(process.stderr, 'write').mockImplementation((text) => Boolean((err += String(text))));
});
afterEach(() => void vi.restoreAllMocks());

/** Calls the program as a terminal does, without one. */
async function called(...args: string[]): Promise<{ code: number; out: string; err: string }> {
  [out, err] = ['', ''];
  const code = await run(args);
  return { code, out, err };
}

describe('usage', () => {
  it.each([
    [[], /measure, check, level, render or deliver/],
    [['dance'], /“dance” is not a command/],
    [['measure'], /at least one file/],
    [['measure', '--target', 'x', 'a.wav'], /belongs to check, level, render and report/],
    [['level', 'a.wav'], /Select a target/],
    [['level', '--target', 'nowhere', 'a.wav'], /no target “nowhere”/],
    [['level', '--target', 'ebu-r128', '--by', 'eye', 'a.wav'], /integrated or truePeak/],
    [['level', '--target', 'ebu-r128', 'a.wav', 'b.wav'], /exactly one file/],
    [['level', '--target', 'ebu-r128', '--goal', '-9', 'a.wav'], /--goal needs --each or --together/],
    [['level', '--target', 'ebu-r128', '--each', '--together', 'a.wav'], /not both/],
    [['level', '--target', 'ebu-r128', '--each', '--sets', 'folder', 'a.wav'], /--sets needs --together/],
    [
      ['level', '--target', 'ebu-r128', '--together', '--sets', ' , ', 'a.wav'],
      /--sets: type what the names/i,
    ],
    [['level', '--target', 'ebu-r128', '--each', '--by', 'eye', 'a.wav'], /--by is one of integrated/],
    [
      ['level', '--target', 'ebu-r128', '--each', '--goal', 'loud', 'a.wav'],
      /--goal is a number from −70 to 3/,
    ],
    [['level', '--target', 'ebu-r128', '--each', '--report', 'x.pdf', 'a.wav'], /ends in \.csv or \.json/],
    [['level', '--target', 'ebu-r128', '--each'], /at least one file/],
    [['measure', '--colour'], /no option --colour/],
    [['measure', '--exact-peek', 'a.wav'], /Did you mean --exact-peak\?/],
    [['mesure', 'a.wav'], /“mesure” is not a command; .* Did you mean measure\?/],
    [['measure', '--dialogue', '--json', 'a.wav'], /--dialogue needs a name/],
    [['measure', 'a.wav', '--layout'], /--layout needs a value/],
    [['measure', '--json', '--csv', 'a.wav'], /not both/],
    [['measure', '--series', 'a.wav'], /--series needs --json/],
    [['measure', '--range', '5-2', 'a.wav'], /two times with a dash/],
    [['measure', '--range', 'soon', 'a.wav'], /two times with a dash/],
    [['measure', '--layout', 'round', 'a.wav'], /no layout “round”; there are mono/],
    [['measure', '--jobs', '0', 'a.wav'], /--jobs is a whole number from 1 to 64/],
    [['measure', '--track', 'one', 'a.wav'], /--track is a whole number/],
    [['measure', '--as-one', 'stereo', '--range', '1-2', 'a.wav'], /cannot be used with --as-one/],
    [['level', '--target', 'ebu-r128', '--csv', 'a.wav'], /--csv belongs to measure/],
    [['measure', '--fps', '25', 'a.wav'], /--fps belongs to render/],
    [['render', 'a.otio'], /--media/],
    [['render', '--media', '.', 'a.otio'], /--out/],
    [['render', '--media', '.', '--out', 'x.wav', '--fps', '26', 'a.edl'], /--fps is one of/],
    [['render', '--media', '.', '--out', 'x.wav', '--each', 'a.edl'], /--each belongs to level/],
    [['render', '--media', '.', '--out', 'x.wav', '--target', 'ebu-r128', 'a.edl'], /--target needs --plan/],
    [['level', '--target', 'ebu-r128', '--limiter', 'x.json', 'a.wav'], /--limiter needs --limit/],
  ])('%j is exit 2 with a hint', async (args, message) => {
    const { code, err, out } = await called(...args);
    expect(code).toBe(2);
    const told = args.includes('--json')
      ? Object.values((JSON.parse(out) as { error: Record<string, string> }).error).join(' ')
      : err;
    expect(told).toMatch(message);
    expect(told).toMatch(/--help/);
  });

  it('--help and --version', async () => {
    for (const args of [['--help'], ['help']]) {
      const { code, out } = await called(...args);
      expect([code, out]).toEqual([
        0,
        expect.stringMatching(/measure .*[^]*level .*[^]*render .*/) as string,
      ]);
    }
    for (const args of [
      ['level', '--help'],
      ['help', 'level'],
    ]) {
      const { code, out } = await called(...args);
      expect([code, out]).toEqual([0, expect.stringMatching(/--target <ID>[^]*Of many files:/) as string]);
      expect(out).not.toMatch(/--media/);
    }
    expect((await called('--version')).out.trim()).toMatch(/^\d+\.\d+\.\d+$/);
  });
});
