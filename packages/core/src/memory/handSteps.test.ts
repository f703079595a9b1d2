import { describe, expect, it } from 'vitest';
import { PLAIN_ASSIGNMENT, type Action, type Assignment, type BoardLimits, type Preset } from '../floor';
import { board, preset, rig } from '../floor/preset/tableRig.test-support';
import { assign } from '../testing.test-support';
import { handRows, handSteps, type HandDone } from './handSteps';

const withBanks = (...banks: Assignment[][]): Preset => ({
  ...preset,
  banks: banks.map((assignments, i) => ({
    id: `bank ${i}`,
    name: ['Verse', 'Solo', 'End'][i]!,
    colour: null,
    remark: '',
    assignments,
  })),
});
const program = (of: Preset, can: Partial<BoardLimits> = {}) =>
  handSteps(rig, { ...board, mode: 'standalone', can: { ...board.can, ...can } }, of);
const texts = (assignments: Assignment[], can: Partial<BoardLimits> = {}) =>
  program(withBanks(assignments), can).steps.map((s) => s.text);
const plain = (part: object = {}) =>
  ({
    kind: 'message',
    deviceId: 'gear',
    channel: null,
    send: 'controller',
    number: 90,
    value: 5,
    ...part,
  }) as never;

describe('a preset as steps for hands', () => {
  it.each<[string, object, string]>([
    [
      'a choice as sent',
      { kind: 'set', functionId: 'snapshot', value: 2 },
      'controller 22, value 2, channel 5',
    ],
    ['a toggle', { kind: 'toggle', functionId: 'drive' }, 'controller 30, value 127, 0 in turn, channel 5'],
    [
      'a momentary',
      { kind: 'momentary', functionId: 'drive', down: 1, up: 0 },
      'controller 30, value 127 when pressed and 0 when let go, channel 5',
    ],
    [
      'steps back, up to an end',
      { kind: 'step', functionId: 'snapshot', values: [0, 1, 3], direction: 'back', atEnd: 'stop' },
      'controller 22, value 3, 1, 0 in turn, up to the last, channel 5',
    ],
    [
      'steps to the first',
      { kind: 'step', functionId: 'snapshot', values: [1, 3], direction: 'reset', atEnd: 'round' },
      'controller 22, value 1, channel 5',
    ],
    ['a plain controller', plain({ channel: 0 }), 'controller 90, value 5, channel 1'],
    ['a note', plain({ send: 'note', number: 36 }), 'note 36, velocity 5, channel 5, off when let go'],
    ['a program', plain({ send: 'program', number: 7 }), 'program 7 counted from 0, channel 5'],
    ['raw bytes', { kind: 'raw', portId: 'p', bytes: [0xb4, 7, 127] }, 'controller 7, value 127, channel 5'],
    ['a bank', { kind: 'bank', to: { kind: 'bank', bankId: 'bank 0' } }, 'bank 1, Verse'],
    ['the next bank', { kind: 'bank', to: { kind: 'up' } }, 'next bank'],
    ['the clock', { kind: 'clock', portId: 'p', to: 'start' }, 'MIDI clock: start'],
    [
      'a delay and its turn',
      { ...(plain() as object), delay: { amount: 200, unit: 'ms' }, every: 'even' },
      'controller 90, value 5, channel 5, after 200 ms, on the second, fourth … time',
    ],
  ])('says %s', (_what, action, text) => {
    expect(texts([assign('s0', [action as never])])).toEqual([text]);
  });

  it('goes bank by bank, along the board, gesture by gesture, and leaves out what is switched off', () => {
    const off = { ...(plain({ number: 99 }) as object), isOff: true } as never;
    const of = withBanks(
      [
        assign('s1', [plain()], [plain({ number: 91 })], { hold: [plain({ number: 92 })] }),
        assign('s0', [off, plain()]),
      ],
      [assign('s0', [plain({ number: 93 })])],
    );
    expect(
      program(of).steps.map((s) => [
        s.pageName,
        s.controlName,
        s.list,
        /\d+/.exec(s.text)![0],
        s.text.includes('held 600 ms'),
      ]),
    ).toEqual([
      ['Bank 1, Verse', board.controls[0]!.name, 'press', '90', false],
      ['Bank 1, Verse', board.controls[1]!.name, 'press', '90', false],
      ['Bank 1, Verse', board.controls[1]!.name, 'release', '91', false],
      ['Bank 1, Verse', board.controls[1]!.name, 'hold', '92', true],
      ['Bank 2, Solo', board.controls[0]!.name, 'press', '93', false],
    ]);
  });

  it.each<[string, Partial<BoardLimits>, Assignment[], string]>([
    [
      'a gesture',
      { gestures: ['press'] },
      [assign('s0', [], [plain()])],
      'This board cannot tell a release by itself.',
    ],
    [
      'a second action',
      { actions: 1 },
      [assign('s0', [plain(), plain()])],
      'This board keeps 1 action for a gesture; this is number 2.',
    ],
    [
      'a kind of message',
      { messages: ['note'] },
      [assign('s0', [plain()])],
      'This board cannot send controllers by itself.',
    ],
    [
      'a function by such a message',
      { messages: ['note'] },
      [assign('s0', [{ kind: 'toggle', functionId: 'drive' }])],
      'This board cannot send controllers by itself.',
    ],
    [
      'a scene',
      {},
      [assign('s0', [{ kind: 'scene', to: { kind: 'next' } }])],
      'Only this application can do that; a board by itself cannot.',
    ],
    [
      'a function that is gone',
      {},
      [assign('s0', [{ kind: 'toggle', functionId: 'nowhere' }])],
      'The function that this moves is gone from its chart.',
    ],
    [
      'a value that is none',
      {},
      [assign('s0', [{ kind: 'momentary', functionId: 'snapshot', down: 1, up: 9 }])],
      'Gear Snapshot does not take 9.',
    ],
  ])('leaves out %s, and says why', (_what, can, assignments, sentence) => {
    const { leftOut } = program(withBanks(assignments), can);
    expect(leftOut.map((l) => l.sentence)).toEqual([sentence]);
  });

  it('leaves out banks that the board has no room for, and what turns to them', () => {
    const of = withBanks(
      [assign('s0', [{ kind: 'bank', to: { kind: 'bank', bankId: 'bank 1' } }])],
      [assign('s0', [plain()])],
    );
    const { steps, leftOut } = program(of, { banks: 1 });
    expect(steps).toEqual([]);
    expect(leftOut.map((l) => l.sentence)).toEqual([
      'This board keeps 1 bank; this turns to number 2.',
      'This board keeps 1 bank; this one is number 2.',
    ]);
  });

  it('says both ends of a pedal, turned round where it is, and its curve', () => {
    const pedal = board.controls.at(-1)!.id;
    const sweep = {
      id: 'sweep',
      functionId: 'volume',
      from: 10,
      to: 100,
      invert: false,
      curve: 'linear',
      points: [],
    } as const;
    const said = (part: object) =>
      texts([{ ...PLAIN_ASSIGNMENT, controlId: pedal, sweeps: [{ ...sweep, ...part }] }]);
    expect(said({})).toEqual(['controller 7, value 10 at the heel to 100 at the toe, channel 5']);
    expect(said({ invert: true })[0]).toContain('value 100 at the heel to 10 at the toe');
    expect(said({ curve: 'points' })[0]).toMatch(/at the toe, channel 5; the curve is .+/);
  });
});

describe('what was ticked off', () => {
  const change = (of: Preset, edit: (a: Action) => Action): Preset => ({
    ...of,
    banks: of.banks.map((b) => ({
      ...b,
      assignments: b.assignments.map((a) => ({ ...a, press: a.press.map(edit) })),
    })),
  });
  const done = (of: Preset): HandDone => Object.fromEntries(program(of).steps.map((s) => [s.key, s]));

  it('is done, changed since, or stands in the board and nowhere else', () => {
    const of = withBanks([assign('s0', [plain(), plain({ number: 91 })])]);
    const before = done(of);
    const states = (now: Preset) => handRows(program(now).steps, before).rows.map((r) => [r.state, r.was]);
    expect(states(of)).toEqual([
      ['done', null],
      ['done', null],
    ]);
    const edited = change(of, (a) => ('number' in a && a.number === 91 ? { ...a, value: 6 } : a));
    expect(states(edited)).toEqual([
      ['done', null],
      ['changed', 'controller 91, value 5, channel 5'],
    ]);
    const fewer = { ...of, banks: [{ ...of.banks[0]!, assignments: [] }] };
    expect(handRows(program(fewer).steps, before).toClear.map((c) => c.text)).toEqual([
      'controller 90, value 5, channel 5',
      'controller 91, value 5, channel 5',
    ]);
    expect(handRows(program(of).steps, {}).rows.map((r) => r.state)).toEqual(['to-do', 'to-do']);
  });
});
