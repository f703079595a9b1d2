import { describe, expect, it } from 'vitest';
import { stripLayout } from './stripLayout';

const board = (xMm: number, yMm: number, widthMm: number, heightMm: number) => ({
  xMm,
  yMm,
  widthMm,
  heightMm,
});

describe('boards along the strip', () => {
  it('lie to scale, as on the floor', () => {
    const { places, scale, widthPx } = stripLayout([board(0, 0, 880, 264), board(960, 120, 486, 144)], 600);
    expect(scale).toBeCloseTo(568 / 1446);
    expect(places[1]!.left).toBeCloseTo(16 + 960 * scale);
    expect(places[1]!.top).toBeCloseTo(4 + 120 * scale);
    expect(widthPx).toBe(600);
  });

  it('a deep board does not make the others smaller', () => {
    const alone = stripLayout([board(0, 0, 880, 264)], 900);
    const beside = stripLayout([board(0, 0, 880, 264), board(1300, 0, 300, 800)], 900);
    expect(alone.scale).toBeCloseTo(0.4356);
    expect(beside.places[0]!.scale).toBe(beside.scale);
    expect(beside.places[1]!.scale).toBeCloseTo(115 / 800);
  });

  it('small boards alone are shown larger, so that their labels can be read', () => {
    const { scale } = stripLayout([board(0, 0, 340, 120)], 900);
    expect(scale).toBe(0.6);
    expect(76 * scale).toBeGreaterThan(34);
  });

  it('many boards leave the strip wider than its room, and labels large enough to read', () => {
    const many = Array.from({ length: 6 }, (_, i) => board(i * 960, 0, 880, 264));
    const { scale, widthPx } = stripLayout(many, 800);
    expect(scale).toBe(0.31);
    expect(widthPx).toBeGreaterThan((5 * 960 + 880) * 0.31);
  });

  it.each([
    [
      'two and a small one behind',
      [board(0, 0, 880, 264), board(960, 120, 486, 144), board(1526, 0, 370, 144)],
    ],
    ['close together', [board(0, 0, 600, 264), board(610, 0, 600, 264), board(1220, 0, 600, 264)]],
    ['one alone', [board(0, 0, 880, 264)]],
  ] as const)('no name covers a board or another name: %s', (_name, boards) => {
    const { places, widthPx } = stripLayout(boards, 940);
    const boxes = places.map((p, i) => ({
      left: p.left,
      top: p.top,
      right: p.left + boards[i]!.widthMm * p.scale,
      bottom: p.top + boards[i]!.heightMm * p.scale,
    }));
    const tags = places.flatMap(({ tag }) =>
      tag ? [{ ...tag, right: tag.left + 140, bottom: tag.top + 20 }] : [],
    );
    for (const tag of tags) {
      expect(tag.right).toBeLessThanOrEqual(widthPx);
      for (const other of [...boxes, ...tags])
        if (other !== tag)
          expect(
            other.left >= tag.right ||
              tag.left >= other.right ||
              other.top >= tag.bottom ||
              tag.top >= other.bottom,
          ).toBe(true);
    }
    expect(tags).toHaveLength(boards.length);
  });

  it('one that lies behind the others is still within the strip', () => {
    const { places } = stripLayout([board(0, 0, 880, 264), board(0, 400, 486, 144)], 900);
    for (const p of places) expect(p.top).toBeLessThan(119);
    expect(places[1]!.top + 144 * places[1]!.scale).toBeLessThanOrEqual(119.5);
  });
});
