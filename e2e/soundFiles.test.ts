import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { noise } from '@/core/testing/signals';
import { setStage } from './support/setup';

const stage = setStage();

/** Where the sounds of this browser lie: bytes and SHA-256 of every file, and the records that name them. */
interface Stored {
  readonly files: readonly (readonly [key: string, size: number, sha256: string])[];
  readonly records: readonly (readonly [key: string, pieces: number | null])[];
}

/** What the page works out; again while a file is still held by a page that is on its way out. */
const fromPage = <T>(what: string, body: string): Promise<T> =>
  stage.page.until(what, async () => {
    const answer = await stage.page.driver.executeAsyncScript<{ value?: T; error?: string }>(
      `const done = arguments[0];
      (async () => {${body}})().then((value) => done({ value }), (error) => done({ error: error.name + ': ' + error.message }));`,
    );
    if (answer.error && !/^(NoModificationAllowed|NotReadable)Error/.test(answer.error))
      throw new Error(answer.error);
    return answer.value;
  });

const stored = (): Promise<Stored> =>
  fromPage<Stored>(
    'what is stored',
    `
      const files = [];
      const folder = await (await navigator.storage.getDirectory()).getDirectoryHandle('sound', { create: true });
      for await (const [key, handle] of folder.entries()) {
        const bytes = await (await handle.getFile()).arrayBuffer();
        const hash = [...new Uint8Array(await crypto.subtle.digest('SHA-256', bytes))].map((b) => b.toString(16).padStart(2, '0')).join('');
        files.push([key, bytes.byteLength, hash]);
      }
      const db = await new Promise((resolve) => { const open = indexedDB.open('dengung'); open.onsuccess = () => resolve(open.result); });
      const store = db.transaction('audio').objectStore('audio');
      const all = (method) => new Promise((resolve) => { const asked = store[method](); asked.onsuccess = () => resolve(asked.result); });
      const [keys, values] = await Promise.all([all('getAllKeys'), all('getAll')]);
      db.close();
      return { files, records: keys.map((key, i) => [key, values[i].pieces === undefined ? -1 : values[i].pieces]) };`,
  );

const integrated = async (): Promise<number> =>
  Number(await stage.page.attribute('[data-figure=integrated]', 'data-value'));

/** Lays the one stored sound into the database in pieces, as it lay there before there were files. */
const intoPieces = (): Promise<boolean> =>
  fromPage(
    'the sound to lie in pieces',
    `
      const folder = await (await navigator.storage.getDirectory()).getDirectoryHandle('sound');
      const [entry] = await Array.fromAsync(folder.entries());
      if (!entry) return true;
      const [key, handle] = entry;
      const bytes = await (await handle.getFile()).arrayBuffer();
      const half = Math.floor(bytes.byteLength / 2);
      const db = await new Promise((resolve) => { const open = indexedDB.open('dengung'); open.onsuccess = () => resolve(open.result); });
      const change = db.transaction(['audio', 'settings'], 'readwrite');
      const store = change.objectStore('audio');
      store.put(new Blob([bytes.slice(0, half)]), key + '/0');
      store.put(new Blob([bytes.slice(half)]), key + '/1');
      store.put({ pieces: 2, size: bytes.byteLength }, key);
      change.objectStore('settings').clear();
      await new Promise((resolve) => { change.oncomplete = resolve; });
      db.close();
      await folder.removeEntry(key);
      return true;`,
  );

describe('sound that is brought in', () => {
  it('lies in a file of its own, as it came', async () => {
    const { page, files } = stage;
    const path = files.wav('ferry.wav', [noise(48_000 * 6, 0.1, 3), noise(48_000 * 6, 0.1, 4)]);
    await page.newProject();
    await page.upload(path);
    await page.placeSource('ferry.wav');
    await page.kept();
    const bytes = readFileSync(path);
    const { files: there, records } = await stored();
    expect(there.map(([, size, hash]) => [size, hash])).toEqual([
      [bytes.length, createHash('sha256').update(bytes).digest('hex')],
    ]);
    expect(records).toEqual([[there[0]![0], null]]);
  });

  it('that an earlier version laid into the database is read from there, and moves into a file', async () => {
    const { page } = stage;
    const address = await page.driver.getCurrentUrl();
    await page.measured();
    const before = await integrated();
    // A page that tidies up nothing.
    await page.open('/api/health');
    await intoPieces();
    await page.driver.get(address);
    await page.measured();
    expect(await integrated()).toBe(before);
    expect((await stored()).files).toEqual([]);
    // The shelf tidies up: its note of when it did last is among what was cleared.
    await page.open('/projects');
    await page.until('the sound to move', async () => {
      const { files: there, records } = await stored();
      return there.length === 1 && records.length === 1 && records[0]![1] === null;
    });
    await page.driver.get(address);
    await page.measured();
    expect(await integrated()).toBe(before);
  });

  it('lies in the database where the browser has no files for it, and sounds the same', async () => {
    const { page, files } = stage;
    await page.driver.sendAndGetDevToolsCommand('Page.addScriptToEvaluateOnNewDocument', {
      source: 'StorageManager.prototype.getDirectory = undefined;',
    });
    await page.newProject();
    await page.upload(files.wav('gulls.wav', [noise(48_000 * 4, 0.1, 5)]));
    await page.placeSource('gulls.wav');
    await page.kept();
    await page.driver.navigate().refresh();
    await page.measured();
    await page.press('Programme');
    const gulls = await page.clipLevel('gulls');
    expect(gulls.lufs).toBeLessThan(-15);
    expect(gulls.lufs).toBeGreaterThan(-30);
    expect(await integrated()).toBeCloseTo(gulls.lufs, 2);
  });
});
