import { describe, expect, it } from 'vitest';
import { gridDeed, LEAVE_STEPS, rangeBetween, typingDeed, type GridKey, tabTo } from './gridKeys';

const key = (text: string): GridKey => {
  const parts = text.split('+');
  const name = parts.pop()!;
  return {
    key: name === 'Plus' ? '+' : name,
    shiftKey: parts.includes('Shift'),
    ctrlKey: parts.includes('Ctrl'),
    metaKey: parts.includes('Meta'),
    altKey: parts.includes('Alt'),
  };
};
const move = (down: number, across: number, isExtending = false) => ({
  kind: 'move',
  by: [down, across],
  isExtending,
});

describe('the keyboard of a table of cells', () => {
  it.each([
    ['ArrowUp', move(-1, 0)],
    ['ArrowRight', move(0, 1)],
    ['Shift+ArrowDown', move(1, 0, true)],
    ['Home', move(0, -7)],
    ['Shift+End', move(0, 7, true)],
    ['PageUp', move(-10, 0)],
    ['Enter', { kind: 'open', text: null }],
    ['F2', { kind: 'open', text: null }],
    ['5', { kind: 'open', text: '5' }],
    ['é', { kind: 'open', text: 'é' }],
    ['Plus', { kind: 'open', text: '+' }],
    ['Delete', { kind: 'clear' }],
    ['Backspace', { kind: 'clear' }],
    ['Shift+Delete', { kind: 'take-out' }],
    ['Ctrl+a', { kind: 'all' }],
    ['Meta+A', { kind: 'all' }],
    // What belongs to the page and the browser.
    ['Ctrl+z', null],
    ['Ctrl+ArrowDown', null],
    ['Alt+ArrowLeft', null],
    ['Alt+r', null],
    ['Tab', null],
    ['Escape', null],
    ['Shift', null],
    ['F5', null],
  ])('%s', (text, deed) => {
    expect(gridDeed(key(text), 7)).toEqual(deed);
  });

  it('begins a cell only with what such a cell may hold', () => {
    const words = /^[\p{L}\p{N}-]$/u;
    expect(['a', '7', '-', '?', ' '].map((c) => gridDeed(key(c), 7, words)?.kind ?? null)).toEqual([
      'open',
      'open',
      'open',
      null,
      null,
    ]);
  });

  it.each([
    ['Enter', 'down'],
    ['Shift+Enter', 'up'],
    ['Tab', 'right'],
    ['Shift+Tab', 'left'],
    ['Escape', 'cancel'],
    ['ArrowLeft', null],
    ['a', null],
  ])('while a cell is typed: %s', (text, deed) => {
    expect(typingDeed(key(text))).toBe(deed);
  });

  it('leaves a cell one step at the most', () => {
    for (const [down, across] of Object.values(LEAVE_STEPS))
      expect(Math.abs(down) + Math.abs(across)).toBeLessThanOrEqual(1);
  });

  it('has a range from any corner to the opposite one', () => {
    const range = { top: 1, bottom: 4, left: 2, right: 3 };
    for (const [a, b] of [
      [
        { row: 1, col: 2 },
        { row: 4, col: 3 },
      ],
      [
        { row: 4, col: 2 },
        { row: 1, col: 3 },
      ],
      [
        { row: 1, col: 3 },
        { row: 4, col: 2 },
      ],
      [
        { row: 4, col: 3 },
        { row: 1, col: 2 },
      ],
    ] as const)
      expect(rangeBetween(a, b)).toEqual(range);
  });
});

describe('Tab in a table of three rows and two columns', () => {
  it.each([
    [[0, 0], false, [0, 1]],
    [[0, 1], false, [1, 0]],
    [[2, 1], false, null],
    [[1, 0], true, [0, 1]],
    [[0, 0], true, null],
  ] as const)('from %j, back %s, to %j', ([row, col], back, to) =>
    expect(tabTo({ row, col }, back, 3, 2)).toEqual(to && { row: to[0], col: to[1] }),
  );
  it('comes by every cell once, and leaves at the end', () => {
    const places: string[] = [];
    for (let at: { row: number; col: number } | null = { row: 0, col: 0 }; at; at = tabTo(at, false, 3, 2))
      places.push(`${at.row}/${at.col}`);
    expect(places).toEqual(['0/0', '0/1', '1/0', '1/1', '2/0', '2/1']);
  });
});
