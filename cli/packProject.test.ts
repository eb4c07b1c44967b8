import { createHash } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { readPack } from '@/codecs/pack/readPack';
import { bytesSource } from '@/core/audio/byteSource';
import { readProject } from '@/core/programme/migrations';
import { noise } from '@/core/testing/signals';
import { clip, cutText } from './testing/cuts';
import { workplace } from './testing/workplace';

const { folder, write, dengung } = await workplace('pack');
const at = (path: string): string => join(folder, path);
const sha256 = (path: string): string =>
  createHash('sha256')
    .update(readFileSync(at(path)))
    .digest('hex');
write('media/voice.wav', [noise(8 * 48_000, 0.02, 5)]);
writeFileSync(at('media/pip.mp3'), readFileSync(join(import.meta.dirname, '../codecs/fixtures/sound.mp3')));
writeFileSync(at('cut.otio'), cutText([clip('voice.wav', 0, 200, -3, 200)], [clip('pip.mp3', 0, 20, 0, 50)]));

describe('dengung project', () => {
  it('packs a cut with its media, and takes it apart to the byte', async () => {
    const packed = dengung('project', 'pack', '--media', 'media', '--out', 'Reel.dengung', 'cut.otio');
    expect([packed.code, packed.err]).toEqual([0, '']);
    const { manifest, project: kept } = await readPack(bytesSource(readFileSync(at('Reel.dengung'))));
    const { project } = readProject(kept);
    expect(project.clips.map(({ gain }) => gain.db)).toEqual([-3, 0]);
    // Nothing in it says where it was made.
    expect(JSON.stringify([manifest, kept])).not.toContain(folder);
    const opened = dengung('project', 'open', '--out', 'apart', 'Reel.dengung');
    expect([opened.code, opened.err]).toEqual([0, '']);
    expect(opened.out).toContain('2 clips on 2 tracks');
    expect(sha256('apart/sounds/0001 voice.wav')).toBe(sha256('media/voice.wav'));
    // What is compressed goes in decoded, as the product keeps it.
    const pip = manifest.sounds.find(({ name }) => name === 'pip.mp3')!;
    expect(readFileSync(at('apart/sounds/0002 pip.mp3')).subarray(0, 4).toString()).toBe('RIFF');
    expect(sha256('apart/sounds/0002 pip.mp3')).toBe(pip.sha256);
    expect(existsSync(at('apart/Reel.otio'))).toBe(true);
  });

  it('without its sound tells it by name, length and checksum; damaged it is refused', () => {
    expect(
      dengung('project', 'pack', '--no-sound', '--media', 'media', '--out', 'bare.dengung', 'cut.otio').code,
    ).toBe(0);
    const bare = dengung('project', 'open', '--out', 'bare', 'bare.dengung');
    expect(bare.err).toContain('The sound of voice.wav is not in the file.');
    writeFileSync(at('half.dengung'), readFileSync(at('Reel.dengung')).subarray(0, 5_000));
    const half = dengung('project', 'open', '--out', 'half', 'half.dengung');
    expect([half.code, existsSync(at('half'))]).toEqual([1, false]);
    expect(half.err).toContain('damaged');
    expect(dengung('project', 'pack', '--media', 'media', '--out', 'x.zip', 'cut.otio').code).toBe(2);
  });
});
