import { describe, expect, it } from 'vitest';
import { PLAIN_BOARD, readyPresets, turnedRound, type LampStop } from '../floor';
import { board, preset, rig } from '../floor/preset/tableRig.test-support';
import { assign } from '../testing.test-support';
import { presetSends } from './presetSends';

describe('everything a preset sends', () => {
  const sends = (assignments: ReturnType<typeof assign>[], part: object = {}, scenes: number | null = null) =>
    presetSends(
      { ...rig, boards: [{ ...board, ...part }] },
      { ...preset, banks: [{ ...preset.banks[0]!, assignments }] },
      scenes,
    );
  const message = (number: number, part: object = {}) =>
    ({
      kind: 'message',
      deviceId: 'gear',
      channel: null,
      send: 'controller',
      number,
      value: 127,
      ...part,
    }) as never;
  const codes = (assignments: ReturnType<typeof assign>[], part: object = {}, scenes: number | null = null) =>
    sends(assignments, part, scenes).flatMap((r) => r.marks.map((m) => m.code));
  it('is in order of channel and number', () => {
    const rows = sends([
      assign('s0', [message(90), message(20, { channel: 0 })]),
      assign('s1', [{ kind: 'toggle', functionId: 'drive' }]),
    ]);
    expect(rows.map((r) => [r.channel, r.number])).toEqual([
      [0, 20],
      [4, 30],
      [4, 90],
    ]);
    expect(rows.flatMap((r) => r.marks)).toEqual([]);
  });
  it('marks a lamp that is lit while what its switch turns on is off, and turning it round mends it', () => {
    const stop = (from: number, light: LampStop['light']): LampStop => ({
      from,
      light,
      colour: null,
      sends: null,
    });
    const toggle = { kind: 'toggle', functionId: 'drive' } as const;
    const shows = (...stops: LampStop[]) => ({
      ...assign('s0', [toggle]),
      lamp: { kind: 'function' as const, functionId: 'drive', stops },
    });
    const round = shows(stop(1, 'off'), stop(0, 'steady'));
    expect(codes([round])).toEqual(['lamp-turned-round']);
    expect(codes([shows(...turnedRound(round.lamp.stops))])).toEqual([]);
    expect(codes([shows(stop(0, 'off'), stop(1, 'steady'))])).toEqual([]);
    // Of another function, or always lit, it is somebody's choice.
    expect(codes([{ ...round, lamp: { ...round.lamp, functionId: 'echo' } }])).toEqual([]);
    expect(codes([shows(stop(0, 'steady'))])).toEqual([]);
  });
  it.each<[string, ReturnType<typeof assign>[], string[]]>([
    [
      'the same from two controls',
      [assign('s0', [message(90)]), assign('s1', [message(90)])],
      ['double', 'double'],
    ],
    [
      'another value from two controls',
      [assign('s0', [message(90)]), assign('s1', [message(90, { value: 0 })])],
      [],
    ],
    ['the same twice from one control', [assign('s0', [message(90), message(90)])], []],
    ['a number that the device keeps', [assign('s0', [message(31)])], ['reserved']],
    ['a reserved function', [assign('s0', [{ kind: 'toggle', functionId: 'kept' }])], ['reserved']],
    ['a number of the standard', [assign('s0', [message(98)])], ['reserved']],
    ['a snapshot that is one too many', [assign('s0', [message(22, { value: 4 })])], ['off-by-one']],
    ['the last snapshot', [assign('s0', [message(22, { value: 3 })])], []],
    [
      'a label that says what is sent',
      [{ ...assign('s0', [{ kind: 'set', functionId: 'snapshot', value: 2 }]), label: 'Snapshot 2' }],
      ['off-by-one'],
    ],
    [
      'a label that says what is shown',
      [{ ...assign('s0', [{ kind: 'set', functionId: 'snapshot', value: 2 }]), label: 'Snapshot 3' }],
      [],
    ],
    [
      'a label with a number of its own',
      [{ ...assign('s0', [{ kind: 'set', functionId: 'snapshot', value: 2 }]), label: 'Song 7' }],
      [],
    ],
    ['a function that is gone', [assign('s0', [{ kind: 'toggle', functionId: 'nowhere' }])], ['gone']],
    ['a device that is gone', [assign('s0', [message(90, { deviceId: 'nowhere' })])], ['gone']],
    [
      'a bank that is gone',
      [assign('s0', [{ kind: 'bank', to: { kind: 'bank', bankId: 'nowhere' } }])],
      ['gone'],
    ],
    ['a control that is gone', [assign('nowhere', [message(90)])], ['gone']],
    [
      'a switched-off action',
      [assign('s0', [{ kind: 'toggle', functionId: 'nowhere', isOff: true } as never])],
      [],
    ],
  ])('marks %s', (_name, assignments, marks) => expect(codes(assignments)).toEqual(marks));
  it('marks scenes that no song has', () => {
    const to = (index: number) => [assign('s0', [{ kind: 'scene', to: { kind: 'at', index } } as never])];
    expect([codes(to(4), {}, 4), codes(to(3), {}, 4), codes(to(9), {}, null)]).toEqual([['gone'], [], []]);
  });
  it('marks what a board cannot do by itself, only where it has to', () => {
    const can = { ...PLAIN_BOARD.can, actions: 1, gestures: ['press'], messages: ['note'] };
    const busy = [{ ...assign('s0', [message(90), message(91)], [message(92, { send: 'note' })]) }];
    expect(codes(busy, { mode: 'standalone', can })).toEqual([
      'beyond-board',
      'beyond-board',
      'beyond-board',
      'beyond-board',
      'beyond-board',
    ]);
    expect(codes(busy, { mode: 'hosted', can })).toEqual([]);
    expect(codes([assign('s0', [{ kind: 'scene', to: { kind: 'next' } }])], { mode: 'standalone' })).toEqual([
      'beyond-board',
    ]);
  });

  it('of those that come ready is only what their gear takes', () => {
    const ready = readyPresets(rig, board, () => 'new');
    expect(ready).toHaveLength(3);
    for (const { preset: made } of ready) expect(presetSends(rig, made).flatMap((r) => r.marks)).toEqual([]);
  });
});
