import {
  BufferTarget,
  EncodedPacket,
  EncodedVideoPacketSource,
  Mp4OutputFormat,
  Output,
  WebMOutputFormat,
} from 'mediabunny';
import { Key } from 'selenium-webdriver';
import { describe, expect, it } from 'vitest';
import { packetsOf, testFilm } from '@/codecs/testing/film';
import { figuresOfBytes } from './support/files';
import { setStage } from './support/setup';

const stage = setStage();
const PER_SECOND = 10;
const SECONDS = 4;

/** A silent film coded by the browser itself: a plain grey that grows lighter, 20 of 255 every second. */
async function greyFilm(): Promise<Uint8Array> {
  const packets = await stage.page.driver.executeAsyncScript<{ data: number[]; key: boolean }[]>(
    `const [perSecond, count, done] = arguments;
    const packets = [];
    const encoder = new VideoEncoder({
      output: (chunk) => {
        const data = new Uint8Array(chunk.byteLength);
        chunk.copyTo(data);
        packets.push({ data: [...data], key: chunk.type === 'key' });
      },
      error: (error) => done(String(error)),
    });
    encoder.configure({ codec: 'vp8', width: 64, height: 36, bitrate: 200000 });
    const canvas = new OffscreenCanvas(64, 36);
    const context = canvas.getContext('2d');
    for (let i = 0; i < count; i++) {
      const grey = 40 + Math.floor(i / perSecond) * 20;
      context.fillStyle = 'rgb(' + [grey, grey, grey] + ')';
      context.fillRect(0, 0, 64, 36);
      const frame = new VideoFrame(canvas, { timestamp: (i * 1e6) / perSecond });
      encoder.encode(frame, { keyFrame: true });
      frame.close();
    }
    encoder.flush().then(() => done(packets));`,
    PER_SECOND,
    PER_SECOND * SECONDS,
  );
  const output = new Output({ format: new WebMOutputFormat(), target: new BufferTarget() });
  const picture = new EncodedVideoPacketSource('vp8');
  output.addVideoTrack(picture);
  await output.start();
  for (const [i, { data, key }] of packets.entries())
    await picture.add(
      new EncodedPacket(Uint8Array.from(data), key ? 'key' : 'delta', i / PER_SECOND, 1 / PER_SECOND),
      { decoderConfig: { codec: 'vp8', codedWidth: 64, codedHeight: 36 } },
    );
  picture.close();
  await output.finalize();
  return new Uint8Array(output.target.buffer!);
}

const GREY_OF = `const greyOf = (video) => {
  const canvas = new OffscreenCanvas(1, 1);
  const context = canvas.getContext('2d');
  context.drawImage(video, 0, 0, 1, 1);
  return context.getImageData(0, 0, 1, 1).data[0];
};`;

/** How light this browser draws the film in each of its seconds: colour ranges differ between browsers, so nothing is assumed. */
const greysOf = (film: Uint8Array): Promise<number[]> =>
  stage.page.driver.executeAsyncScript(
    `${GREY_OF}
    const [bytes, seconds, done] = arguments;
    (async () => {
      const video = document.createElement('video');
      video.muted = true;
      video.src = URL.createObjectURL(new Blob([Uint8Array.from(bytes)], { type: 'video/webm' }));
      const greys = [];
      for (let second = 0; second < seconds; second++) {
        const sought = new Promise((resolve) => video.addEventListener('seeked', resolve, { once: true }));
        video.currentTime = second + 0.55;
        await sought;
        greys.push(greyOf(video));
      }
      URL.revokeObjectURL(video.src);
      return greys;
    })().then(done, (error) => done(String(error)));`,
    [...film],
    SECONDS,
  );

/** Where the film is, and how light its picture, once it stands. */
const seen = (): Promise<{ at: number; grey: number; seeking: boolean }> =>
  stage.page.driver.executeScript(
    `${GREY_OF}
    const video = document.querySelector('[data-picture] video');
    return { at: video.currentTime, grey: greyOf(video), seeking: video.seeking };`,
  );

/** Puts the playhead at a time and waits for the film's frame there. @param greys see {@link greysOf} */
async function stands(seconds: number, film: number, greys: readonly number[]): Promise<void> {
  const { page } = stage;
  await page.type('Place of the playhead', `${seconds}${Key.ENTER}`);
  await page.until(`the picture of ${film} s`, async () => {
    const { at, grey, seeking } = await seen();
    return !seeking && Math.abs(at - film) < 0.01 && Math.abs(grey - greys[Math.floor(film)]!) <= 2;
  });
}

describe('the picture at the playhead', () => {
  it('is that of a film under the programme, wherever that begins; it can be moved and put away', async () => {
    const { page, files } = stage;
    await page.openDemo();
    await page.press('How lanes and meters are drawn');
    await page.press('Picture at the playhead', 'self::label');
    await page.driver.actions().sendKeys(Key.ESCAPE).perform();
    const film = await greyFilm();
    const greys = await greysOf(film);
    greys
      .slice(1)
      .forEach((grey, i) => expect(grey, `grey of second ${i + 1}`).toBeGreaterThan(greys[i]! + 8));
    const section = 'section[aria-label=Picture]';
    expect(await page.text(section)).toMatch(/Films that are added as sources show their picture here/);
    await (await page.find(`${section} input[type=file]`)).sendKeys(files.write('grey.webm', film));
    await page.find('[data-picture="grey.webm"]');
    await stands(2.55, 2.55, greys);
    await stands(0.25, 0.25, greys);
    await page.type('Begins at (s)', `1.5${Key.ENTER}`);
    await stands(3.05, 1.55, greys);
    const left = async (): Promise<number> => (await (await page.find(section)).getRect()).x;
    const before = await left();
    await (await page.button('Move the picture')).sendKeys(Key.ARROW_RIGHT, Key.ARROW_RIGHT);
    await page.until('it to have moved', async () => (await left()) === before + 48);
    await page.press('Put the picture away');
    await page.until('it to be gone', async () => (await page.all(section)).length === 0);
    expect(await page.errors()).toEqual([]);
  });

  it('of a source follows its clip; one that cannot be shown is said to be so', async () => {
    const { page, files } = stage;
    await page.newProject();
    const reel = await testFilm(new Mp4OutputFormat(), 1);
    await page.upload(files.write('reel 2.mp4', reel));
    await page.placeSource('reel 2.mp4');
    await page.press('How lanes and meters are drawn');
    await page.press('Picture at the playhead', 'self::label');
    await page.driver.actions().sendKeys(Key.ESCAPE).perform();
    await page.find('[data-picture="reel 2.mp4"]');
    await page.until('the reason', async () =>
      (await page.text('section[aria-label=Picture]')).includes(
        'holds no picture that this browser can show',
      ),
    );
    // A finished mix goes into a copy of it, and its picture stays as it was.
    await page.press('Handover');
    await page.press('Render and measure');
    await page.until('the mix', async () => (await page.all('[data-outcome]')).length === 1);
    await (await page.find('[data-file] button')).click();
    await page.press('Into reel 2.mp4');
    await page.find('[data-film]');
    const mix = Number(await page.attribute('[data-compare=integratedLufs] td:nth-of-type(2)', 'data-value'));
    await page.press('Save film');
    const after = new Uint8Array(await page.saved('New project.mov'));
    expect(await packetsOf(after)).toEqual(await packetsOf(reel));
    expect((await figuresOfBytes(after)).integratedLufs).toBeCloseTo(mix, 1);
    await page.press('Programme');
    await page.type('Place of the playhead', `30${Key.ENTER}`);
    await page.until('nothing to lie there', async () =>
      (await page.text('section[aria-label=Picture]')).includes('No clip with a picture'),
    );
  });
});
