import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { assign, makeFunction } from '../../testing.test-support';
import { board, gear, preset, rig } from './tableRig.test-support';
import {
  aligned,
  assignmentAt,
  BOARD_SHAPES,
  comparePresets,
  controlsOfKind,
  copiedBank,
  colourForEach,
  CONTROL_SIZES,
  distributed,
  duplicated,
  fillCells,
  fillOn,
  layOut,
  layOutNotes,
  messageText,
  nextMessage,
  parseCellText,
  readyPresets,
  replaceInMessages,
  seriesValues,
  shapedBoard,
  shifted,
  stopAt,
  type Action,
  type TableCell,
  type Fill,
  type Series,
} from '../index';

let next = 0;
const newId = () => `new-${++next}`;
const series = (start: number, step = 1, atEnd: Series['atEnd'] = 'stay', low = 0, high = 127): Series => ({
  start,
  step,
  atEnd,
  low,
  high,
});
const cells: TableCell[] = ['bank-0', 'bank-1'].flatMap((pageId) =>
  [0, 1, 2, 3].map((i): TableCell => ({ pageId, controlId: `s${i}`, list: 'press' })),
);
const notes = (numbers: Series, part: object = {}): Fill =>
  ({ kind: 'message', deviceId: 'gear', channel: null, send: 'note', numbers, value: 100, ...part }) as Fill;
const numbersIn = (p: typeof preset, of: readonly TableCell[] = cells) =>
  of.map((cell) => {
    const [action] = assignmentAt(p, cell)[cell.list as 'press'];
    return action?.kind === 'message' ? action.number : null;
  });

describe('a series', () => {
  it.each<[Series, number, (number | null)[]]>([
    [series(36), 3, [36, 37, 38]],
    [series(126), 4, [126, 127, 127, 127]],
    [series(126, 1, 'again'), 4, [126, 127, 126, 127]],
    [series(126, 1, 'leave'), 4, [126, 127, null, null]],
    [series(2, -1), 4, [2, 1, 0, 0]],
    [series(5, 0), 3, [5, 5, 5]],
    [series(0, 64, 'again'), 4, [0, 64, 0, 64]],
    [series(200), 2, [127, 127]],
    [series(-5, 1, 'stay', 1), 2, [1, 2]],
  ])('%j for %i cells', (given, count, values) => expect(seriesValues(given, count)).toEqual(values));
  it('never leaves its bounds', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: -300, max: 300 }),
        fc.integer({ min: -40, max: 40 }),
        fc.constantFrom('stay', 'again', 'leave'),
        fc.nat(200),
        (start, step, atEnd, count) => {
          for (const v of seriesValues(series(start, step, atEnd as Series['atEnd']), count))
            if (v !== null) expect(v >= 0 && v <= 127).toBe(true);
        },
      ),
      { seed: 81 },
    );
  });
});

describe('filling a table', () => {
  it('counts up through the controls of one bank after the other', () => {
    const { preset: filled, changed } = fillCells(preset, cells, notes(series(36)), newId);
    expect(changed).toBe(8);
    expect(numbersIn(filled)).toEqual([36, 37, 38, 39, 40, 41, 42, 43]);
  });
  it('keeps identifiers, and changes one thing of what is there', () => {
    const first = fillCells(preset, cells, notes(series(36)), newId).preset;
    const onFive = fillCells(
      first,
      cells.slice(0, 2),
      { kind: 'channel', numbers: series(4, 0, 'stay', 0, 15) },
      newId,
    ).preset;
    const [before, after] = [first, onFive].map((p) => assignmentAt(p, cells[0]!).press[0]!);
    expect(after).toEqual({ ...before, channel: 4 });
    expect(assignmentAt(onFive, cells[2]!)).toBe(assignmentAt(first, cells[2]!));
  });
  it('leaves out what does not fit, without using up a number', () => {
    const mixed = [cells[0]!, { pageId: 'bank-0', controlId: 'p0', list: 'sweeps' as const }, cells[1]!];
    const { preset: filled, changed } = fillCells(preset, mixed, notes(series(36)), newId);
    expect(changed).toBe(2);
    expect(numbersIn(filled).slice(0, 2)).toEqual([36, 37]);
    expect(fillCells(preset, cells, { kind: 'number', numbers: series(1) }, newId)).toEqual({
      preset,
      changed: 0,
    });
  });
  it('sets values, times, sweeps and takeover, and clears', () => {
    const set = fillCells(
      preset,
      cells.slice(0, 4),
      { kind: 'set', functionId: 'snapshot', values: series(0, 1, 'stay', 0, 3) },
      newId,
    ).preset;
    expect(cells.slice(0, 4).map((c) => assignmentAt(set, c).press[0])).toMatchObject(
      [0, 1, 2, 3].map((value) => ({ kind: 'set', value })),
    );
    const holds = cells.map((c) => ({ ...c, list: 'hold' as const }));
    const held = fillCells(preset, holds, notes(series(1)), newId).preset;
    const timed = fillCells(
      held,
      holds,
      { kind: 'holdMs', numbers: series(500, 100, 'stay', 100, 10_000) },
      newId,
    ).preset;
    expect(assignmentAt(timed, holds[1]!).timing.holdMs).toBe(600);
    const pedal: TableCell = { pageId: 'bank-0', controlId: 'p0', list: 'sweeps' };
    const swept = fillCells(
      preset,
      [pedal],
      { kind: 'sweep', functionId: 'volume', from: 10, to: 90 },
      newId,
    ).preset;
    const taken = fillCells(swept, [pedal], { kind: 'takeover', takeover: 'pickup' }, newId).preset;
    const bent = fillCells(taken, [pedal], { kind: 'curve', curve: 's' }, newId).preset;
    expect(assignmentAt(bent, pedal)).toMatchObject({
      sweeps: [{ from: 10, to: 90, curve: 's' }],
      response: { takeover: 'pickup' },
    });
    expect(fillCells(bent, [pedal], { kind: 'clear' }, newId).preset.banks[0]!.assignments).toEqual([]);
  });
  it('goes on with whatever the first cell says, over the banks', () => {
    const limits = (id: string) => (id === 'snapshot' ? { low: 0, high: 3 } : null);
    const on = (action: object, step = 1, atEnd: Series['atEnd'] = 'stay') => {
      const begun = fillCells(preset, [cells[2]!], { kind: 'action', action: action as never }, newId).preset;
      const after = fillOn(begun, cells.slice(2), { kind: 'on', step, atEnd, limits }, newId);
      return {
        changed: after.changed,
        said: cells.slice(2).map((c) => assignmentAt(after.preset, c).press[0]),
      };
    };
    const at = (index: number) => ({ kind: 'at', index });
    expect(on({ kind: 'scene', to: at(0) }).said).toMatchObject(
      [0, 1, 2, 3, 4, 5].map((n) => ({ kind: 'scene', to: at(n) })),
    );
    expect(on({ kind: 'set', functionId: 'snapshot', value: 1 }, 1, 'again').said).toMatchObject(
      [1, 2, 3, 1, 2, 3].map((value) => ({ value })),
    );
    const leaves = on({ kind: 'set', functionId: 'snapshot', value: 1 }, 1, 'leave');
    expect([leaves.changed, leaves.said.map((a) => a !== undefined)]).toEqual([
      2,
      [true, true, true, false, false, false],
    ]);
    expect(on({ kind: 'bank', to: { kind: 'bank', bankId: 'bank-0' } }).said).toMatchObject(
      [0, 1, 1, 1, 1, 1].map((n) => ({ to: { bankId: `bank-${n}` } })),
    );
    expect(on({ kind: 'song', to: { index: 4 } }, 2).said).toMatchObject(
      [4, 6, 8, 10, 12, 14].map((index) => ({ to: { index } })),
    );
    // What has no number is the same in each, with an identifier of its own.
    const taps = on({ kind: 'tap' }).said;
    expect(new Set(taps.map((a) => a!.id)).size).toBe(6);
    expect(taps.every((a) => a!.kind === 'tap')).toBe(true);
    expect(fillOn(preset, cells, { kind: 'on', step: 1, atEnd: 'stay', limits }, newId).changed).toBe(0);
  });
  it('goes on with the controller of a pedal', () => {
    const pedals: TableCell[] = ['bank-0', 'bank-1'].map((pageId) => ({
      pageId,
      controlId: 'p0',
      list: 'sweeps',
    }));
    const plain = { kind: 'plain-sweep', functionId: null, deviceId: 'gear', channel: null, controller: 11 };
    const begun = fillCells(preset, [pedals[0]!], plain as Fill, newId).preset;
    const on = fillOn(begun, pedals, { kind: 'on', step: 3, atEnd: 'stay', limits: () => null }, newId);
    expect(pedals.map((c) => assignmentAt(on.preset, c).sweeps[0])).toMatchObject([
      { controller: 11 },
      { controller: 14 },
    ]);
  });
  it('replaces a channel or number all over the preset', () => {
    const filled = fillCells(preset, cells, notes(series(36, 0), { channel: 2 }), newId).preset;
    expect(replaceInMessages(filled, 'number', 36, 40, 'note').changed).toBe(8);
    expect(replaceInMessages(filled, 'number', 36, 40, 'controller')).toEqual({ preset: filled, changed: 0 });
    expect(numbersIn(replaceInMessages(filled, 'number', 36, 40, null).preset)).toEqual(Array(8).fill(40));
    expect(replaceInMessages(filled, 'channel', 2, 9, null).changed).toBe(8);
  });
});

describe('a cell as text', () => {
  const plain = { send: 'note', number: 36, value: 100, channel: null } as const;
  it.each([
    ['note 36', plain],
    ['note C1 velocity 90', { ...plain, value: 90 }],
    ['note 36 C1 velocity 90 channel 5', { ...plain, value: 90, channel: 4 }],
    ['36', plain],
    ['CC 7 value 0 ch 16', { send: 'controller', number: 7, value: 0, channel: 15 }],
    ['program 127', { ...plain, send: 'program', number: 127 }],
    ['', null],
  ])('“%s”', (text, message) => expect(parseCellText(text, 3, plain)).toEqual({ ok: true, value: message }));
  it.each([
    'note 128',
    'note H2',
    'CC -1',
    'CC 7 value 128',
    'CC 7 channel 0',
    'CC 7 channel 17',
    'CC 7 loud',
    'note',
  ])('refuses “%s” with what would be right', (text) => {
    const result = parseCellText(text, 3, plain);
    expect(result.ok).toBe(false);
    if (!result.ok) expect(result.error.expected).toMatch(/note 36/);
  });
  it('is read as it was written', () => {
    const d7 = fc.nat(127);
    fc.assert(
      fc.property(
        fc.constantFrom('note', 'controller', 'program'),
        d7,
        d7,
        fc.option(fc.nat(15), { nil: null }),
        fc.constantFrom(3, 4, 5),
        (send, number, value, channel, middleC) => {
          const message = { send: send as 'note', number, value: send === 'program' ? 100 : value, channel };
          expect(parseCellText(messageText(message, middleC as 3), middleC as 3, plain)).toEqual({
            ok: true,
            value: message,
          });
        },
      ),
      { seed: 82 },
    );
  });
});

describe('laying out', () => {
  it('puts blocks on switches and ranges on pedals in their order, and never what is reserved', () => {
    const { laid, left } = layOut(gear, board.controls, newId);
    expect(laid.map((l) => [l.assignment.controlId, l.says])).toEqual([
      ['s0', 'toggles Drive'],
      ['s1', 'toggles Echo'],
      ['s2', 'Snapshot 1 Dry'],
      ['s3', 'Snapshot 2 Body'],
      ['p0', 'moves Volume'],
    ]);
    expect(left).toEqual([]);
    expect(layOut(gear, board.controls.slice(0, 1), newId).left.map((fn) => fn.name)).toEqual([
      'Echo',
      'Volume',
    ]);
  });
});

describe('a colour for each value of a function', () => {
  const rowOf = (shape: object) => makeFunction({ id: 'fn', shape: shape as never });
  const shown = (shape: object) => {
    const stops = colourForEach(rowOf(shape));
    return [0, 1, 2, 3, 4, 60, 127].map((value) => stopAt(stops, value)?.colour ?? 'dark');
  };
  it('of a choice each one, of programs those that have a name', () => {
    expect(shown({ kind: 'choice', first: 0, shownFrom: 1, labels: ['Dry', 'Body', 'Full'] })).toEqual([
      'coral',
      'leaf',
      'sky',
      ...Array<string>(4).fill('sky'),
    ]);
    const names = [1, 3].map((program) => ({ program, name: `Sound ${program}` }));
    expect(shown({ kind: 'program', names })).toEqual([
      'dark',
      'coral',
      'dark',
      'leaf',
      'dark',
      'dark',
      'dark',
    ]);
  });
  it('none where none has a name', () =>
    expect(colourForEach(rowOf({ kind: 'range', min: 0, max: 127, shownFrom: 0 }))).toEqual([]));
});

describe('notes that are laid out', () => {
  const notesOf = (first: number) =>
    layOutNotes('gear', board.controls, first, newId).map(({ assignment }) => {
      const [action] = assignment.press;
      return [
        assignment.controlId,
        action?.kind === 'message' && action.send === 'note' ? action.number : null,
      ];
    });
  it('begin where one says, and leave out what is moved', () =>
    expect(notesOf(60)).toEqual([0, 1, 2, 3].map((i) => [`s${i}`, 60 + i])));
  it('end with 127', () => expect(notesOf(126)).toEqual([0, 1].map((i) => [`s${i}`, 126 + i])));
});

describe('presets', () => {
  const full = fillCells(preset, cells, notes(series(36)), newId).preset;
  const turning = {
    ...full,
    banks: [
      {
        ...full.banks[0]!,
        assignments: [assign('s0', [{ kind: 'bank', to: { kind: 'bank', bankId: 'bank-1' } }])],
      },
      full.banks[1]!,
    ],
  };
  const idsOf = (value: unknown): string[] =>
    [...JSON.stringify(value).matchAll(/"id":"([^"]+)"/g)].map((m) => m[1]!);
  it('duplicate with identifiers of their own, and turn to their own banks', () => {
    const copy = duplicated(turning, 'Copy', newId);
    expect(idsOf(copy).filter((id) => idsOf(turning).includes(id))).toEqual([]);
    const action = copy.banks[0]!.assignments[0]!.press[0] as Action & { kind: 'bank' };
    expect(action.to).toEqual({ kind: 'bank', bankId: copy.banks[1]!.id });
    expect(comparePresets(full, duplicated(full, 'Copy', newId))).toEqual({ controls: [], pages: [] });
  });
  it('compare control by control, and say which banks only one has', () => {
    const other = {
      ...full,
      banks: [
        { ...full.banks[0]!, assignments: full.banks[0]!.assignments.slice(1) },
        full.banks[1]!,
        copiedBank(full.banks[1]!, 'Third', newId),
      ],
    };
    const { controls, pages } = comparePresets(full, other);
    expect(controls).toMatchObject([{ place: 'bank 1', controlId: 's0', in: ['press'] }]);
    expect(pages).toEqual([{ place: 'bank 3', name: 'Third', only: 'right' }]);
  });
  it('come ready, with a pedal on the first range of their gear', () => {
    const ready = readyPresets(rig, board, newId);
    expect(ready.map((r) => r.kind)).toEqual(['scenes', 'notes', 'device/gear']);
    const swept = ready[0]!.preset.banks[0]!.assignments.find((a) => a.controlId === 'p0');
    expect(swept?.sweeps[0]?.functionId).toBe('volume');
  });
});

describe('boards', () => {
  it.each(BOARD_SHAPES.map((s) => [s.kind, s] as const))(
    '%s lies within its board, tells its controls apart and overlaps nothing',
    (_kind, shape) => {
      const made = shapedBoard(shape, { id: 'b', deviceId: 'd', xMm: 0, yMm: 0 }, newId);
      expect(new Set(made.controls.map((c) => `${c.sends.kind} ${c.sends.number}`)).size).toBe(
        made.controls.length,
      );
      for (const c of made.controls) {
        expect(
          c.xMm >= 0 &&
            c.yMm >= 0 &&
            c.xMm + c.widthMm <= made.widthMm &&
            c.yMm + c.heightMm <= made.heightMm,
        ).toBe(true);
        // Black keys lie between and over the white ones.
        for (const o of c.kind === 'key' ? [] : made.controls)
          if (o.id !== c.id)
            expect(
              o.xMm >= c.xMm + c.widthMm ||
                c.xMm >= o.xMm + o.widthMm ||
                o.yMm >= c.yMm + c.heightMm ||
                c.yMm >= o.yMm + o.heightMm,
            ).toBe(true);
      }
    },
  );
  it('give a new control the next free note or controller', () => {
    const pads = shapedBoard(
      BOARD_SHAPES.find((s) => s.kind === 'sixteen-pads')!,
      { id: 'b', deviceId: 'd', xMm: 0, yMm: 0 },
      newId,
    );
    expect(nextMessage(pads, 'pad')).toEqual({ kind: 'note', number: 52 });
    expect(nextMessage({ ...pads, controls: pads.controls.slice(1) }, 'pad')).toEqual({
      kind: 'note',
      number: 36,
    });
    expect(nextMessage(pads, 'footswitch')).toEqual({ kind: 'controller', number: 20 });
    expect(nextMessage(board, 'footswitch')).toEqual({ kind: 'controller', number: 20 });
    expect(controlsOfKind(pads, 'pad')).toBe(16);
    expect(CONTROL_SIZES.pad).toEqual({ w: 70, h: 70 });
  });

  const boxes = [
    { id: 'a', xMm: 10, yMm: 10, widthMm: 20, heightMm: 20 },
    { id: 'b', xMm: 50, yMm: 14, widthMm: 20, heightMm: 40 },
    { id: 'c', xMm: 120, yMm: 90, widthMm: 20, heightMm: 20 },
  ];
  const hand = new Set(['a', 'b', 'c']);
  it.each([
    ['left', 'xMm', [10, 10, 10]],
    ['right', 'xMm', [120, 120, 120]],
    ['centre', 'xMm', [65, 65, 65]],
    ['top', 'yMm', [10, 10, 10]],
    ['bottom', 'yMm', [90, 70, 90]],
    ['middle', 'yMm', [50, 40, 50]],
  ] as const)('line up their controls by %s', (by, axis, places) =>
    expect(aligned(boxes, hand, by).map((c) => c[axis])).toEqual(places),
  );
  it('spread them with equal gaps, and leave what is not in hand', () => {
    expect(distributed(boxes, hand, 'across').map((c) => c.xMm)).toEqual([10, 65, 120]);
    expect(distributed(boxes, new Set(['a', 'b']), 'across')).toEqual(boxes);
    expect(aligned(boxes, new Set(['a']), 'right')).toEqual(boxes);
  });
  it('move them together on the grid and never over their edge', () => {
    const moved = (x: number, y: number) =>
      shifted(boxes, new Set(['a', 'b']), { x, y }, { widthMm: 150, heightMm: 120 });
    expect(moved(5, 3).map((c) => [c.xMm, c.yMm])).toEqual([
      [16, 14],
      [56, 18],
      [120, 90],
    ]);
    expect(moved(-500, -500).map((c) => [c.xMm, c.yMm])).toEqual([
      [0, 0],
      [40, 4],
      [120, 90],
    ]);
    expect(moved(500, 500).map((c) => [c.xMm, c.yMm])).toEqual([
      [90, 76],
      [130, 80],
      [120, 90],
    ]);
  });
});
