import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { ledgerRow } from '@/core/proposals/ledger';
import { EBU_R128 } from '@/core/check/shipped';
import { clipsArbitrary, testClip, testProject } from '@/core/testing/projects';
import { measuredClip } from '@/core/proposals/proposal';
import { COLUMNS } from '../ledger/columns';
import {
  nameBoxes,
  outOfSight,
  grouped,
  ladderLevels,
  ladderLuPerPixel,
  layOut,
  leftOf,
  rowAt,
} from './layout';

const rowsOf = (clips: Parameters<typeof testProject>[0]) =>
  (clips ?? []).map((clip) => ledgerRow(measuredClip(clip, null), EBU_R128));

describe('the ladder', () => {
  it('has a place for every clip, found again under the hand, whatever the zoom', () => {
    fc.assert(
      fc.property(
        clipsArbitrary,
        fc.constantFrom('track', 'role', 'source'),
        fc.double({ min: 1, max: 6, noNaN: true }),
        (clips, by, zoom) => {
          const groups = grouped(rowsOf(clips), testProject(clips), by);
          const layout = layOut(groups, 700, zoom);
          expect(layout.rows).toHaveLength(clips.length);
          for (const row of layout.rows) {
            const left = leftOf(layout, row.entry.clip.id)!;
            expect(rowAt(layout, left + layout.slot / 2)).toBe(row);
            expect(left + layout.slot).toBeLessThanOrEqual(layout.width);
          }
          expect(rowAt(layout, 0)).toBeNull();
        },
      ),
    );
  });

  it('stays legible with 600 clips: it grows wider than the screen instead', () => {
    const clips = Array.from({ length: 600 }, (_, i) => testClip({ id: `c${i}` }));
    const layout = layOut(grouped(rowsOf(clips), testProject(clips), 'track'), 900, 1);
    expect(layout.slot).toBeGreaterThanOrEqual(6);
    expect(layout.width).toBeGreaterThan(900);
  });

  it('has one scale for drawing and dragging', () => {
    const height = 300;
    expect(ladderLevels(height)(0) - ladderLevels(height)(10)).toBeCloseTo(10 / ladderLuPerPixel(height), 9);
    expect(ladderLevels(height)(99)).toBe(0);
  });

  it('names of groups never run into each other, and what is out of sight is counted', () => {
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: 1, max: 40 }), { minLength: 1, maxLength: 12 }),
        fc.integer({ min: 300, max: 1600 }),
        fc.nat(2_000),
        (sizes, room, scroll) => {
          const groups = sizes.map((size, g) => ({
            name: `Group ${g}`,
            rows: rowsOf(Array.from({ length: size }, (_, i) => testClip({ id: `${g}-${i}` }))),
          }));
          const laid = layOut(groups, room, 1);
          const boxes = nameBoxes(laid);
          for (const row of [0, 1]) {
            const inRow = boxes.filter((box) => box.row === row);
            for (const [i, box] of inRow.entries())
              expect(box.left + box.width).toBeLessThanOrEqual(inRow[i + 1]?.left ?? Infinity);
          }
          const at = Math.min(scroll, Math.max(0, laid.width - room));
          const { left, right } = outOfSight(laid, at, room);
          const places = laid.groups.flatMap(({ rows, left: from }) =>
            rows.map((_, i) => from + i * laid.slot),
          );
          expect(left).toBe(places.filter((x) => x + laid.slot <= at + 1e-9).length);
          expect(right).toBe(places.filter((x) => x >= at + room - 1e-9).length);
        },
      ),
      { numRuns: 60 },
    );
  });
});

describe('the ledger’s columns', () => {
  it('have words and an order for every row, measured or not', () => {
    const told = { trackName: 'A', place: () => '0:01', share: null, trackDb: 0, groupsDb: 0 };
    for (const row of rowsOf([testClip({ id: 'a' })]))
      for (const { text, order } of COLUMNS) {
        expect(typeof text({ ...row, ...told })).toBe('string');
        expect(() => order!({ ...row, ...told })).not.toThrow();
      }
  });
});
