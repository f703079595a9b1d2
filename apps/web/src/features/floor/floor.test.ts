import { draftKey } from '../../drafts/draftKey';
import {
  type Preset,
  BOARD_SHAPES,
  CONTROL_KINDS,
  copiedBank,
  copiedTo,
  readActionCell,
  withAssignments,
  type Assignment,
  type Candidate,
} from '@idle-step/core/floor';
import { inputsAtComputer } from '@idle-step/core/gear';
import { withKind } from '../../actions/table';
import { outputs } from '../../actions/targets';
import { PresetSchema, RigSchema, type Kept } from '@idle-step/contract';
import { compileWorld } from '@idle-step/core/engine';
import { demoPresets, demoRig } from '@idle-step/demo';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  draftsReducer,
  edited,
  lastEdited,
  lastUndone,
  redone,
  undone,
  type DraftsState,
} from '../../drafts/draftsSlice';
import {
  withBoard,
  withLearned,
  withNewBoard,
  withNewControls,
  withoutControls,
  withoutLearned,
} from '../../edits/boardEdits';
import { newBank, assignmentOf, EMPTY_PRESET, withoutGroup, newAction } from '../../edits/presetEdits';
import {
  cellsIn,
  copyRange,
  filledCells,
  gesturesUsed,
  pasteCopied,
  pasteText,
  tableColumns,
  tableRows,
  typeCell,
  cellContext,
  usedTexts,
  type Range,
} from './table/tableCells';

/** The document of a step that is one of a document. */
const keysOf = (step: ReturnType<typeof lastEdited>): readonly string[] =>
  step?.kind === 'draft' ? step.keys : [];
const preset = demoPresets[0]!;
const board = demoRig.boards[0]!;
const world = compileWorld({ rig: demoRig, presets: demoPresets, setName: '', songs: [] });
const rows = tableRows(board, new Set(['press']));
const columns = tableColumns(preset);
const range = (top: number, bottom: number, left = 0, right = left): Range => ({ top, bottom, left, right });
const newId = () => crypto.randomUUID();

describe('undo after any series of edits', () => {
  /** Every kind of change that Floor makes, driven by two numbers. */
  const edits: readonly ((p: Preset, a: number, b: number) => Preset)[] = [
    (p, a, b) =>
      filledCells(p, cellsIn(p, rows, tableColumns(p), range(a % 6, 9, 0, b % 2)), {
        kind: 'message',
        deviceId: demoRig.devices[5]!.id,
        channel: null,
        send: 'note',
        numbers: { start: a, step: 1, atEnd: 'again', low: 0, high: 127 },
        value: 100,
      }).preset,
    (p, a) => filledCells(p, cellsIn(p, rows, tableColumns(p), range(0, a % 12)), { kind: 'clear' }).preset,
    (p, a) => ({ ...p, banks: [...p.banks, newBank(a)] }),
    (p, a) => (p.banks.length > 1 ? { ...p, banks: p.banks.toSpliced(a % p.banks.length, 1) } : p),
    (p) => ({ ...p, banks: [...p.banks.slice(1), p.banks[0]!] }),
    (p, a) => ({
      ...p,
      banks: [...p.banks, copiedBank(p.banks[a % p.banks.length]!, 'Copy', newId) as never],
    }),
    (p, a) => ({ ...p, name: `Preset ${a}`, folder: a % 2 ? 'Tour' : '' }),
    (p, a, b) => {
      const from = p.banks[0]!.assignments[0];
      const to = board.controls[b % 10]!.id;
      if (!from) return p;
      const put = new Map<string, Assignment>([[to, copiedTo(from, to, newId)]]);
      return withAssignments(p, new Map([[p.banks[a % p.banks.length]!.id, put]]));
    },
  ];
  const key = draftKey('presets', preset.id);
  const kept: Kept<Preset> = { doc: preset, version: 1, savedAt: '2026-01-01T10:00:00.000Z' };
  const step = fc.tuple(fc.nat(edits.length - 1), fc.nat(120), fc.nat(20));

  it('gives back the preset before, byte for byte, and redo what was undone; at least a hundred steps', () => {
    fc.assert(
      fc.property(fc.array(step, { minLength: 1, maxLength: 120 }), (steps) => {
        let state = draftsReducer(undefined, { type: 'start' }) as DraftsState;
        const texts = [JSON.stringify(preset)];
        for (const [which, a, b] of steps) {
          const now = (state.byKey[key]?.doc ?? preset) as Preset;
          const doc = edits[which]!(now, a, b);
          if (doc === now) continue;
          state = draftsReducer(
            state as never,
            edited({ resource: 'presets', label: 'edit', edits: [{ kept, doc }] }),
          );
          texts.push(JSON.stringify(doc));
        }
        const text = () => JSON.stringify(state.byKey[key]?.doc ?? preset);
        for (let i = texts.length - 2; i >= 0; i--) {
          state = draftsReducer(state as never, undone({ keys: keysOf(lastEdited(state)) }));
          expect(text()).toBe(texts[i]);
        }
        for (let i = 1; i < texts.length; i++) {
          state = draftsReducer(state as never, redone({ keys: keysOf(lastUndone(state)) }));
          expect(text()).toBe(texts[i]);
        }
      }),
      { seed: 91, numRuns: 25 },
    );
  });

  it('leaves a preset that the contract takes, whatever was done', () => {
    fc.assert(
      fc.property(fc.array(step, { maxLength: 30 }), (steps) => {
        const after = steps.reduce((p, [which, a, b]) => edits[which]!(p, a, b), preset);
        expect(PresetSchema.safeParse(after).success).toBe(true);
      }),
      { seed: 92, numRuns: 40 },
    );
  });
});

describe('the table', () => {
  it('has a line for each control and gesture, and shows the gestures that are used', () => {
    expect(rows).toHaveLength(12);
    expect(tableRows(board, gesturesUsed(preset))).toHaveLength(22);
    expect(columns.map((c) => c.title)).toEqual(['1 Crossing', '2 Snapshots', '3 Sound check']);
  });
  it('counts down each bank, or across the banks', () => {
    const both = range(0, 1, 0, 1);
    const where = (order: 'down' | 'across') =>
      cellsIn(preset, rows, columns, both, order).map(
        (c) => `${c.controlId.slice(-1)}/${c.pageId.slice(-1)}`,
      );
    expect(where('down')).toEqual(['1/1', '2/1', '1/2', '2/2']);
    expect(where('across')).toEqual(['1/1', '1/2', '2/1', '2/2']);
  });
  it('is copied whole and pasted with identifiers of its own, as often as it fits', () => {
    const copied = copyRange(world, preset, rows, columns, range(0, 0));
    expect(copied.text).toBe('Drive');
    const result = pasteCopied(preset, copied, rows, columns, range(1, 3, 2));
    if ('error' in result) throw new Error(result.error);
    expect(result.changed).toBe(3);
    const pasted = result.preset.banks[2]!.assignments.filter((a) =>
      [1, 2, 3].some((i) => a.controlId === rows[i]!.control.id),
    );
    expect(pasted.map((a) => a.press.map((x) => x.kind))).toEqual([['toggle'], ['toggle'], ['toggle']]);
    expect(new Set(pasted.map((a) => a.press[0]!.id)).size).toBe(3);
    expect(pasteCopied(preset, copied, rows, columns, range(10, 10))).toHaveProperty('error');
  });
  it.each([
    ['CC 20\nCC 21', range(0, 0), 2],
    ['note 36\tnote 48', range(0, 0), 2],
    ['\tCC 20', range(0, 0), 2],
    ['ch 3 CC 11\nVolume 20-110', range(10, 10), 2],
    ['scene 2\tbank +\nDrive\tSnapshot 3', range(0, 0), 4],
  ])('takes “%s” from a spreadsheet', (text, at, changed) => {
    const result = pasteText(world, preset, text, rows, columns, at);
    expect('changed' in result && result.changed).toBe(changed);
  });
  it.each([
    ['CC 20\nloud', range(0, 0), /^Line 2, cell 1: “loud” is no action/],
    ['CC 20\tCC 21\tCC 22\tCC 23', range(0, 0), /4 cells do not fit|1 by 4 cells do not fit/],
    ['a\n"b', range(0, 0), /no table of cells/],
    ['bank +', range(10, 10), /“bank \+” is no action; a function that moves/],
  ])('refuses “%s” whole, with its place', (text, at, sentence) => {
    const result = pasteText(world, preset, text, rows, columns, at);
    expect('error' in result && result.error).toMatch(sentence);
  });
  it('types a message into a cell where a cable leads to a device, and clears it with nothing', () => {
    const typed = typeCell(world, preset, rows[0]!, columns[0]!, 'program 5');
    if ('error' in typed) throw new Error(typed.error);
    expect(typed.preset.banks[0]!.assignments[0]!.press).toMatchObject([
      { kind: 'message', send: 'program', number: 5 },
    ]);
    const empty = compileWorld({ rig: { ...demoRig, cables: [] }, presets: [], setName: '', songs: [] });
    const away = { ...empty, ways: new Map() };
    expect(typeCell(away, preset, rows[0]!, columns[0]!, 'CC 1')).toHaveProperty('error');
  });
});

describe('boards', () => {
  it.each([...BOARD_SHAPES.map((s) => s.kind), 'empty'])(
    '%s is one that the contract takes, with hardware and without',
    (kind) => {
      for (const isOnScreen of [false, true]) {
        const { rig, boardId } = withNewBoard(demoRig, kind, isOnScreen);
        expect(RigSchema.safeParse(rig).error?.issues ?? []).toEqual([]);
        expect(rig.boards.find((b) => b.id === boardId)?.isOnScreen).toBe(isOnScreen);
      }
    },
  );
  it.each(CONTROL_KINDS)('takes more of the kind %s, in free places and with free numbers', (kind) => {
    const made = withNewControls(board, kind, 12);
    const rig = withBoard(demoRig, board.id, () => made.board);
    expect(made.ids).toHaveLength(12);
    expect(RigSchema.safeParse(rig).error?.issues ?? []).toEqual([]);
    for (const a of made.board.controls.slice(12))
      for (const b of made.board.controls)
        if (a.id !== b.id)
          expect(
            a.xMm >= b.xMm + b.widthMm ||
              b.xMm >= a.xMm + a.widthMm ||
              a.yMm >= b.yMm + b.heightMm ||
              b.yMm >= a.yMm + a.heightMm,
          ).toBe(true);
  });
  it('says when every number is in use', () => {
    const full = withNewControls(board, 'pad', 200);
    expect(full.ids).toHaveLength(128);
    expect(full.missing).toBe(72);
  });
  it('swaps what two controls send when one learns what the other sends, and clears what was learned', () => {
    const [first, second] = board.controls;
    const candidate: Candidate = {
      portId: 'in',
      channel: 15,
      sends: second!.sends,
      hardware: { ...second!.hardware, debounceMs: 12 },
      looksLike: 'momentary switch',
      wants: null,
      count: 2,
      score: 4,
      firstMs: 0,
      lastMs: 90,
      restMs: 0,
    };
    const learned = withLearned(demoRig, board.id, first!.id, candidate, second!.id).boards[0]!;
    expect(
      learned.controls.slice(0, 2).map((c) => [c.sends.number, c.channel, c.hardware.debounceMs]),
    ).toEqual([
      [37, null, 12],
      [36, null, 0],
    ]);
    expect(RigSchema.safeParse({ ...demoRig, boards: [learned, demoRig.boards[1]] }).success).toBe(true);
    const cleared = withoutLearned(learned, new Set([first!.id]));
    expect(cleared.controls[0]).toMatchObject({
      sends: { kind: 'controller', number: 20 },
      hardware: { debounceMs: 0 },
    });
    expect(withoutControls(demoRig, board.id, new Set([first!.id])).boards[0]!.controls).toHaveLength(11);
  });
});

describe('a group taken apart', () => {
  it('leaves what its controls do on the page in force in the bank in force', () => {
    const does = (controlId: string, label: string) => ({ ...assignmentOf(controlId, undefined), label });
    const pages = [newBank(1), newBank(2)].map((p, i) => ({
      ...p,
      assignments: [does('knob 1', `page ${i + 1}`), does('knob 2', `page ${i + 1}`)],
    }));
    const banks = [newBank(1), newBank(2)].map((b) => ({ ...b, assignments: [does('switch 1', 'own')] }));
    const preset = {
      ...EMPTY_PRESET,
      id: 'p',
      rigId: 'r',
      boardId: 'b',
      name: 'P',
      banks,
      groups: [{ id: 'g', name: 'Knobs', controlIds: ['knob 1', 'knob 2'], pages }],
    };
    const after = withoutGroup(preset, 'g', pages[1]!.id, banks[0]!.id);
    expect(after.groups).toEqual([]);
    expect(after.banks[0]!.assignments.map((a) => `${a.controlId}: ${a.label}`)).toEqual([
      'switch 1: own',
      'knob 1: page 2',
      'knob 2: page 2',
    ]);
    expect(after.banks[1]).toBe(banks[1]);
  });
});

describe('another thing that an action does', () => {
  const world = compileWorld({ rig: demoRig, presets: demoPresets, setName: '', songs: [] });
  const receiver = demoRig.devices.filter((d) => d.chart.some((f) => f.shape.kind === 'switch')).at(-1)!;
  const value = receiver.chart.find((f) => f.shape.kind !== 'switch' && f.shape.kind !== 'trigger')!;
  const set = { ...newAction({ kind: 'set', functionId: value.id, value: 1 }) };
  const functionNow = (action: unknown) =>
    world.functions.get((action as { functionId?: string }).functionId ?? '');

  it('keeps the function where it can have it', () =>
    expect(functionNow(withKind(world, 0, set, 'momentary'))?.fn.id).toBe(value.id));

  it('keeps the device where it cannot, and by way of one that has a device only', () => {
    expect(functionNow(withKind(world, 0, set, 'toggle'))?.device.id).toBe(receiver.id);
    const message = withKind(world, 0, set, 'message')!;
    expect(message).toMatchObject({ deviceId: receiver.id });
    expect(functionNow(withKind(world, 0, message, 'set'))?.device.id).toBe(receiver.id);
  });

  it('offers outputs only, and keeps the one it had', () => {
    const inputs = new Set(inputsAtComputer(demoRig).map((at) => at.port.id));
    const ports = outputs(world).map((o) => o.value);
    expect(ports.length).toBeGreaterThan(0);
    expect(ports.filter((id) => inputs.has(id))).toEqual([]);
    const raw = newAction({ kind: 'raw', portId: ports.at(-1)!, bytes: [] });
    expect(withKind(world, 0, raw, 'clock')).toMatchObject({ portId: ports.at(-1) });
  });
});

it('the table offers what its cells are told already, each once, as it can be typed', () => {
  const told = pasteText(world, preset as Preset, 'CC 24\nnote 40\nCC 24\n', rows, columns, range(0, 2));
  if ('error' in told) throw new Error(told.error);
  const context = cellContext(world, told.preset);
  const offered = usedTexts(context, told.preset);
  expect(offered.length).toBeGreaterThan(1);
  expect(new Set(offered).size).toBe(offered.length);
  for (const text of offered) expect(readActionCell(text, context).ok).toBe(true);
});
