import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { noise, tones } from '@/core/testing/signals';
import { figuresOfBytes } from './support/files';
import { setStage } from './support/setup';

const stage = setStage();

const advice = async (kind: string): Promise<string> => stage.page.text(`[data-mend=${kind}]`);

describe('auditing a finished file', () => {
  it('reads the verdict, mends it with one gain, and the saved file proves it', async () => {
    const { page, files } = stage;
    await page.open('/audit');
    await page.upload(files.wav('feature final.wav', tones([{ dbfs: -29.3, seconds: 6 }], 48_000, 2)));
    expect(await advice('gain')).toMatch(
      /\+6\.\d\d dB brings it to −23\.0 LUFS with a true peak of −\d+\.\d dBTP\./,
    );
    expect((await page.dial('integrated')).state).toBe('under');
    await page.press('Correct it');
    await page.find('section[aria-label="The corrected file"] [data-verdict=true]');
    const name = (await page.text('section[aria-label="The corrected file"] h2')).trim();
    expect(name).toMatch(/^feature final \+6\.\d\d dB\.wav$/);
    await page.press('Save file');
    const figures = await figuresOfBytes(await page.saved(name));
    expect(figures.integratedLufs).toBeCloseTo(-23, 3);
  });

  it('judges against another target at once', async () => {
    const { page } = stage;
    await page.press('EBU R 128');
    await page.press('Web video');
    await page.until('the other verdict', async () => (await page.dial('integrated')).words.includes('15.'));
  });

  it('says when gain alone cannot, and why', async () => {
    const { page, files } = stage;
    const x = noise(48_000 * 5, 0.01);
    x[100_000] = 0.99;
    await page.upload(files.wav('one click.wav', [x]));
    expect(await advice('cannot')).toMatch(
      /Gain alone cannot fix it\. .* the true peak reaches −1\.0 dBTP; integrated would still be \d+\.\d LU under\./,
    );
  });

  it('has nothing to say of silence, and no verdict on a file that cannot be read', async () => {
    const { page, files } = stage;
    await page.upload(files.wav('silence.wav', [new Float32Array(96_000)]));
    expect(await advice('nothing')).toMatch(/nothing over −70 LUFS/);
    await page.upload(files.write('song.wav', Buffer.from('ID3 pretending to be a WAV file')));
    await page.until('the reason', async () =>
      (await page.text('main')).includes('song.wav: No MP3 sound could be decoded from this file.'),
    );
    // The verdict on the file before is not taken for one on this.
    expect(await page.all('[data-mend]')).toEqual([]);
  });

  it('leaves alone what meets the target', async () => {
    const { page, files } = stage;
    await page.press('Web video');
    await page.press('EBU R 128');
    const path = files.wav('right.wav', tones([{ dbfs: -23, seconds: 5 }], 48_000, 2));
    await page.upload(path);
    expect(await advice('leave')).toMatch(/no gain is needed/);
    expect((await figuresOfBytes(readFileSync(path))).integratedLufs).toBeCloseTo(-23, 1);
    expect(await page.errors()).toEqual([]);
  });
});
