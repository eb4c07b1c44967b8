import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { unzipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { openSound } from '@/codecs/open';
import { bytesSource } from '@/core/audio/byteSource';
import { figuresOf } from '@/core/loudness/figures';
import { measureReader } from '@/core/loudness/measureReader';
import { memoryReader, tones } from '@/core/testing/signals';
import { readOtio } from '@/core/timeline/otio';
import { setStage } from './support/setup';

const stage = setStage();
const tone = (dbfs: number) => tones([{ dbfs, seconds: 6 }], 48_000, 2);

const time = (value: number) => ({ OTIO_SCHEMA: 'RationalTime.1', value, rate: 25 });
const range = (start: number, length: number) => ({
  OTIO_SCHEMA: 'TimeRange.1',
  start_time: time(start),
  duration: time(length),
});
const clip = (file: string, start: number, length: number) => ({
  OTIO_SCHEMA: 'Clip.2',
  name: file.replace('.wav', ''),
  source_range: range(start, length),
  media_references: {
    DEFAULT_MEDIA: {
      OTIO_SCHEMA: 'ExternalReference.1',
      target_url: `rushes/${file}`,
      available_range: range(0, 150),
    },
  },
});
const OTIO = JSON.stringify({
  OTIO_SCHEMA: 'Timeline.1',
  name: 'Frostline reel 2',
  tracks: {
    OTIO_SCHEMA: 'Stack.1',
    children: [
      {
        OTIO_SCHEMA: 'Track.1',
        kind: 'Audio',
        name: 'Hut',
        children: [
          clip('hut.wav', 0, 100),
          { OTIO_SCHEMA: 'Gap.1', source_range: range(0, 25) },
          clip('gate.wav', 25, 100),
        ],
      },
    ],
  },
});

describe('a cut of an edit system', () => {
  it('is read, names what is missing, and is placed once its media is there', async () => {
    const { page, files } = stage;
    await page.newProject();
    await page.upload(files.write('reel.otio', OTIO), files.wav('hut.wav', tone(-26)));
    await page.find('[data-source="hut.wav"]');
    await page.until('what is missing', async () =>
      /1 file missing: gate\.wav\. Add it; it is found by name/.test(
        await page.text('[data-cut="reel.otio"] [data-missing]'),
      ),
    );
    await page.button('Place 1 of 2 clips');
    await page.upload(files.wav('gate.wav', tone(-20)));
    await page.press('Place 2 clips');
    expect(await page.all('[data-cut]')).toHaveLength(0);
    await page.press('Programme');
    await page.clipLevel('hut');
    await page.clipLevel('gate');
    const [hut, gate] = await Promise.all(['hut', 'gate'].map((name) => page.clip(name)));
    expect(await hut!.getAttribute('aria-label')).toMatch(/hut, Hut, at 0:00\.0, 0:04\.0 long/);
    expect(await gate!.getAttribute('aria-label')).toMatch(/gate, Hut, at 0:05\.0, 0:04\.0 long/);
    await page.button('Undo: Place timeline reel.otio');
  });

  it('tells which of its clips make it loud, together 100 %', async () => {
    const { page } = stage;
    await page.measured();
    await page.press('Calculate shares');
    const shares = await page.until('the shares', async () => {
      const rows = await page.all('[aria-label="Shares by loudest clips"] [data-share]');
      return (
        rows.length === 2 &&
        Promise.all(rows.map(async (row) => Number(await row.getAttribute('data-share'))))
      );
    });
    expect(shares[0]! + shares[1]!).toBeCloseTo(1, 6);
    // 6 dB more is four times the energy.
    expect(shares[0]! / shares[1]!).toBeCloseTo(10 ** 0.6, 0);
    await (await page.find('[aria-label="Shares by loudest clips"] [data-share]')).click();
    expect(await page.all('[data-clip][aria-selected=true]')).toHaveLength(1);
    // In Check the same, with what is left without each.
    await page.press('Check');
    await page.press('What makes it loud');
    await page.press('Clips');
    const parts = await page.until('the parts', async () => {
      const cells = await page.all('[data-part] [data-share]');
      return (
        cells.length === 2 &&
        Promise.all(cells.map(async (one) => Number(await one.getAttribute('data-share'))))
      );
    });
    expect(parts[0]! + parts[1]!).toBeCloseTo(1, 6);
    expect(parts[0]).toBeCloseTo(shares[0]!, 6);
    const { value } = await page.dial('integrated');
    expect(Number(await page.attribute('[data-part] [data-without]', 'data-without'))).toBeLessThan(
      value - 3,
    );
    await page.press('Programme');
    await page.measured();
  });

  it('goes back to the edit system with its gains', async () => {
    const { page } = stage;
    await page.press('Level…');
    await page.press('Apply');
    await page.measured();
    const gate = await page.clipLevel('gate');
    await page.press('Handover');
    await page.press('Back to the edit');
    await page.press('Export timeline');
    const saved = JSON.parse((await page.saved('New project.otio')).toString('utf8')) as {
      tracks: { children: { name: string; children: Record<string, unknown>[] }[] };
    };
    const [track] = saved.tracks.children;
    expect(track!.name).toBe('Hut');
    const clips = track!.children.filter(({ OTIO_SCHEMA }) => String(OTIO_SCHEMA).startsWith('Clip'));
    expect(clips.map(({ name }) => name)).toEqual(['hut', 'gate']);
    const [effect] = clips[1]!['effects'] as { metadata: { gain_db: number } }[];
    expect(effect!.metadata.gain_db).toBeCloseTo(gate.gain, 9);
    expect(effect!.metadata.gain_db).not.toBe(0);
  });

  it('goes back as a list and as media, and both come to what is heard here', async () => {
    const { page, files } = stage;
    const lufs = (await page.dial('integrated')).value;
    await page.press('Edit list');
    expect(await page.text('[data-said]')).toContain('Gains stand as notes');
    await page.press('Save edit list');
    const list = (await page.saved('New project.edl')).toString('latin1');
    expect(list).toMatch(/001 +HUT +A +C +00:00:00:00 00:00:04:00 00:00:00:00 00:00:04:00/);
    files.write('back.edl', list);

    await page.driver.executeScript('delete window.showSaveFilePicker;');
    await page.press('Media');
    await page.press('Told by the cut');
    await page.press('Float');
    await page.press('2 files as one zip');
    const zip = unzipSync(await page.saved('New project media.zip'));
    const names = ['Hut/001 hut.wav', 'Hut/002 gate.wav'];
    expect(Object.keys(zip).sort()).toEqual([...names, 'New project.edl', 'New project.otio'].sort());
    expect(await page.text('[data-media-done="2"]')).toContain('with a timeline');
    // Laid out as the cut says, the files are as loud as the programme here.
    const cut = readOtio(Buffer.from(zip['New project.otio']!).toString('utf8'));
    const [hut, gate] = await Promise.all(
      names.map(async (name) => {
        const sound = await openSound(bytesSource(zip[name]!));
        if (sound.kind !== 'pcm') throw new Error('no plain samples');
        return sound.reader;
      }),
    );
    // The second begins at five seconds with a handle of one: its source has no more before it.
    expect(gate!.format.metadata!.timeReference).toBe(4 * 48_000);
    const mix = [0, 1].map(() => new Float32Array(9 * 48_000));
    for (const clip of cut.tracks[0]!.clips) {
      const reader = clip.name === 'hut' ? hut! : gate!;
      const [from, count] = [clip.sourceStart, clip.length].map((seconds) => Math.round(seconds * 48_000));
      const sound = await reader.read(from!, count!);
      const gain = 10 ** (clip.gainDb / 20);
      mix.forEach((channel, c) =>
        sound[c]!.forEach((x, i) => (channel[Math.round(clip.start * 48_000) + i]! += x * gain)),
      );
    }
    const measured = figuresOf((await measureReader(memoryReader(mix, 48_000), () => true))!.history);
    expect(measured.integratedLufs).toBeCloseTo(lufs, 1);
  });

  it('that comes back changed is held against what is here; gains stay', async () => {
    const { page, files } = stage;
    await page.press('Sources');
    await page.find('[data-source="gate.wav"]');
    // The gate lies a second later, the hut is gone.
    const list = readFileSync(join(files.folder, 'back.edl'), 'latin1')
      .replace(/001 +HUT[^]*?(?=002)/, '')
      .replace('00:00:05:00 00:00:09:00', '00:00:06:00 00:00:10:00');
    await page.upload(files.write('changed.edl', list));
    await page.until('the comparison', async () =>
      /1 moved, 1 gone/.test(await page.text('[data-compared]')),
    );
    await (await page.find('[data-compared] summary')).click();
    await page.until('what changed', async () =>
      /gate on Hut: moved, 0:05\.0 to 0:09\.0, now 0:06\.0/.test(await page.text('[data-compared]')),
    );
    await page.press('Programme');
    const before = await page.clipLevel('gate');
    await page.press('Sources');
    await page.find('[data-source="gate.wav"]');
    await page.press('Take over the changes');
    await page.button('Undo: Take over timeline changed.edl');
    await page.press('Programme');
    expect((await page.clipLevel('gate')).gain).toBe(before.gain);
    expect(await (await page.clip('gate')).getAttribute('aria-label')).toMatch(/at 0:06\.0, 0:04\.0 long/);
    expect(await page.all('[data-clip]')).toHaveLength(1);
    await page.press('Undo: Take over timeline changed.edl');
    await page.until('both again', async () => (await page.all('[data-clip]')).length === 2);
  });

  it('takes another source for media that is not found, if it holds what is used', async () => {
    const { page, files } = stage;
    await page.newProject();
    const short = tones([{ dbfs: -30, seconds: 2 }], 48_000, 2);
    await page.upload(
      files.write('again.otio', OTIO),
      files.wav('hut.wav', tone(-26)),
      files.wav('gate new.wav', tone(-20)),
      files.wav('short.wav', short),
    );
    await page.until('three sources', async () => (await page.all('[data-source]')).length === 3);
    await (await page.find('[data-cut="again.otio"] [role=combobox]')).click();
    const options = await page.all('[role=option]');
    expect(await Promise.all(options.map((option) => option.getText()))).toEqual([
      'gate new.wav (same length)',
      'hut.wav (same length)',
    ]);
    await options[0]!.click();
    await page.press('Place 2 clips');
    await page.press('Programme');
    expect((await page.clipLevel('gate')).lufs).toBeCloseTo(-20, 0);
    await page.press('Sources');
  });

  it('with a disabled clip cannot be certified until the difference is accepted', async () => {
    const { page, files } = stage;
    await page.newProject();
    const disabled = OTIO.replace('"name":"gate"', '"enabled":false,"name":"gate"');
    expect(disabled).not.toBe(OTIO);
    await page.upload(files.write('disabled.otio', disabled), files.wav('hut.wav', tone(-23)));
    await page.press('Place 1 clip');
    await page.press('Programme');
    await page.knownDial('integrated');
    const verdict = () => page.text('section[aria-label="Verdict on the programme"]');
    await page.until('no certificate', async () => /Cannot be certified/.test(await verdict()));
    await page.press('1 timeline difference');
    await page.until('the difference', async () =>
      /1 clip is disabled in the cut and left out: “gate”/.test(await page.text('[role=dialog]')),
    );
    await page.press('Accept 1 timeline difference');
    await page.until('a certificate', async () => /Meets/.test(await verdict()));
    await page.press('Undo: Accept 1 timeline difference');
    await page.until('none again', async () => /Cannot be certified/.test(await verdict()));
    await page.press('Sources');
  });

  it('that is broken gets the line and the reason, and nothing else changes', async () => {
    const { page, files } = stage;
    await page.press('Sources');
    await page.upload(files.write('torn.edl', 'TITLE: X\n\n001  R A C 00:00\n'));
    await page.until('the reason', async () =>
      /Line 3 of the list cannot be read/.test(await page.text('[data-cut="torn.edl"]')),
    );
    await page.press('Discard');
    expect(await page.all('[data-source]')).toHaveLength(1);
    expect(await page.errors()).toEqual([]);
  });
});
