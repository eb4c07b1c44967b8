import type { ByteSource } from '@/core/audio/byteSource';
import { viewOf } from '@/core/formats/chunks';
import { AudioFileError } from '@/core/formats/errors';
import { EXPORT_AGAIN } from '@/core/formats/limits';

/** Boxes that hold others on the way to the tables. Source: ISO/IEC 14496-12, clause 8. */
const HOLDS = new Set(['moov', 'trak', 'mdia', 'minf', 'stbl', 'moof', 'traf']);
/** A file may have this many boxes; more is a hostile one. */
const MOST_BOXES = 200_000;
/** A table larger than this is none, bytes. */
const MOST_TABLE_BYTES = 256 * 2 ** 20;

interface Box {
  readonly kind: string;
  readonly from: number;
  readonly to: number;
}

const damagedTable = (what: string): AudioFileError =>
  new AudioFileError('damagedHeader', `The file’s table of its sound makes no sense: ${what}.`, EXPORT_AGAIN);

async function boxAt(source: ByteSource, at: number, end: number): Promise<Box | null> {
  const head = await source.read(at, 16);
  if (head.length < 8) return null;
  const view = viewOf(head);
  const kind = String.fromCharCode(...head.subarray(4, 8));
  const size = view.getUint32(0);
  if (size === 1 && head.length < 16) return null;
  const [headSize, whole] =
    size === 1 ? [16, Number(view.getBigUint64(8))] : [8, size === 0 ? end - at : size];
  return whole < headSize ? null : { kind, from: at + headSize, to: Math.min(end, at + whole) };
}

/** What the tables of one track say. */
class Track {
  sound = false;
  private readonly tables = new Map<string, DataView>();

  constructor(private readonly fileSize: number) {}

  take(kind: string, bytes: Uint8Array): void {
    if (kind === 'hdlr') this.sound ||= String.fromCharCode(...bytes.subarray(8, 12)) === 'soun';
    else this.tables.set(kind, viewOf(bytes));
  }

  /** The entries of a table, each of so many bytes. */
  private entries(
    kind: string,
    width: number,
    countAt = 4,
  ): { count: number; view: DataView; first: number } | null {
    const view = this.tables.get(kind);
    if (!view) return null;
    const first = countAt + 4;
    if (view.byteLength < first) throw damagedTable(`“${kind}” is cut short`);
    const count = view.getUint32(countAt);
    if (first + count * width > view.byteLength)
      throw damagedTable(
        `“${kind}” claims ${count} entries and has room for ${Math.floor((view.byteLength - first) / width)}`,
      );
    return { count, view, first };
  }

  /** How many samples there are: coded packets, or frames of plain sound. */
  private samples(): number {
    const sizes = this.tables.get('stsz');
    if (!sizes) return this.tables.has('stz2') ? (this.tables.get('stz2')!.byteLength - 12) * 2 : 0;
    if (sizes.byteLength < 12) throw damagedTable('“stsz” is cut short');
    const [each, count] = [sizes.getUint32(4), sizes.getUint32(8)];
    if (each === 0) return this.entries('stsz', 4, 8)!.count;
    // Samples of one size are never gone through one by one, unless each has a time of its own.
    if (this.tables.has('ctts') && count > this.fileSize)
      throw damagedTable(`${count} samples are more than the file has bytes`);
    return count;
  }

  /** @throws AudioFileError where a count is more than the file can hold: whoever believed it would not come to an end */
  check(): void {
    const samples = this.samples();
    const chunks = (this.entries('stco', 4) ?? this.entries('co64', 8))?.count ?? 0;
    this.entries('stss', 4);
    for (const kind of ['stts', 'ctts']) {
      const table = this.entries(kind, 8);
      let sum = 0;
      for (let i = 0; table && i < table.count; i++) sum += table.view.getUint32(table.first + 8 * i);
      if (sum > samples * 2 + 1000)
        throw damagedTable(`“${kind}” times ${sum} samples, and there are ${samples}`);
    }
    const runs = this.entries('stsc', 12);
    let before = 0;
    for (let i = 0; runs && i < runs.count; i++) {
      const [chunk, each] = [0, 4].map((at) => runs.view.getUint32(runs.first + 12 * i + at)) as [
        number,
        number,
      ];
      if (chunk <= before || chunk > chunks + 1)
        throw damagedTable(`“stsc” speaks of chunk ${chunk}, and there are ${chunks}`);
      if (each === 0 || each > samples)
        throw damagedTable(`“stsc” puts ${each} samples into a chunk, and there are ${samples}`);
      before = chunk;
    }
  }
}

/** A run of samples in a fragment. Source: ISO/IEC 14496-12, clause 8.8.8. */
function checkRun(bytes: Uint8Array, fileSize: number): void {
  if (bytes.length < 8) throw damagedTable('“trun” is cut short');
  const view = viewOf(bytes);
  const flags = view.getUint32(0) & 0xffffff;
  const count = view.getUint32(4);
  const width = [0x100, 0x200, 0x400, 0x800].reduce((sum, flag) => sum + (flags & flag ? 4 : 0), 0);
  const first = 8 + (flags & 1 ? 4 : 0) + (flags & 4 ? 4 : 0);
  if (first + count * width > bytes.length || count > fileSize)
    throw damagedTable(`“trun” claims ${count} samples, which the file has no room for`);
}

const TABLES = new Set(['hdlr', 'stts', 'ctts', 'stsz', 'stz2', 'stss', 'stsc', 'stco', 'co64', 'trun']);

/**
 * Looks at the tables of an MP4 or MOV file before the package that reads it believes them.
 * @throws AudioFileError where a table of its sound claims more than the file can hold
 */
export async function checkTables(source: ByteSource): Promise<void> {
  let boxes = 0;
  const visit = async (from: number, to: number, track: Track | null): Promise<void> => {
    for (let at = from; at + 8 <= to;) {
      if (++boxes > MOST_BOXES) throw damagedTable('it has no end');
      const box = await boxAt(source, at, to);
      if (!box) return;
      const { kind } = box;
      if (kind === 'trak') {
        const own = new Track(source.size);
        await visit(box.from, box.to, own);
        if (own.sound) own.check();
      } else if (HOLDS.has(kind)) await visit(box.from, box.to, track);
      else if (TABLES.has(kind) && box.to - box.from <= MOST_TABLE_BYTES) {
        const bytes = await source.read(box.from, box.to - box.from);
        if (kind === 'trun') checkRun(bytes, source.size);
        else track?.take(kind, bytes);
      }
      at = box.to;
    }
  };
  await visit(0, source.size, null);
}

/** What tracks hold, by their handlers: “soun”, “vide”, “text”, “tmcd” and so on, in order. Source: ISO/IEC 14496-12, clause 8.4.3. */
export async function handlersOf(source: ByteSource): Promise<readonly string[]> {
  const handlers: string[] = [];
  let boxes = 0;
  const visit = async (from: number, to: number, inTrack: boolean): Promise<void> => {
    for (let at = from; at + 8 <= to && ++boxes <= MOST_BOXES;) {
      const box = await boxAt(source, at, to);
      if (!box) return;
      // The media's own handler stands straight in it; others belong to its data.
      if (box.kind === 'hdlr' && inTrack) {
        const bytes = await source.read(box.from, 12);
        handlers.push(String.fromCharCode(...bytes.subarray(8, 12)));
      } else if (box.kind === 'moov' || box.kind === 'trak') await visit(box.from, box.to, false);
      else if (box.kind === 'mdia') await visit(box.from, box.to, true);
      at = box.to;
    }
  };
  await visit(0, source.size, false);
  return handlers;
}
