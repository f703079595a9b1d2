import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Assignment } from '../../floor';
import { controller } from '../../midi';
import {
  assign,
  makeBoard,
  makeDevice,
  makeFunction,
  makePort,
  makeRig,
  valuesOf,
} from '../../testing.test-support';
import { isLampLit } from '../index';
import { makeShow, Playing } from '../playing.test-support';

/** A board whose switches send controllers 30, 31, … on channel 16, and one device on a fast link. */
const device = makeDevice({
  id: 'gear',
  channel: 0,
  ports: [makePort({ id: 'gear-in', link: 'virtual', atComputer: true })],
  chart: [
    makeFunction({
      id: 'echo',
      drive: { kind: 'controller', controller: 20 },
      shape: { kind: 'switch', off: 0, on: 127 },
    }),
    ...['Bow', 'Voice', 'Hum'].map((arms, i) =>
      makeFunction({
        id: `arm-${i + 1}`,
        arms,
        drive: { kind: 'controller', controller: 40 + i },
        shape: { kind: 'switch', off: 0, on: 127 },
      }),
    ),
    makeFunction({ id: 'level', drive: { kind: 'controller', controller: 21 } }),
    makeFunction({
      id: 'note',
      drive: { kind: 'note', note: 60 },
      shape: { kind: 'switch', off: 0, on: 100 },
    }),
  ],
});

function play(
  banks: Assignment[][],
  feet: readonly (readonly [number, number, 'down' | 'up'])[],
  untilMs = 5000,
) {
  const { device: boardDevice, board, preset } = makeBoard(4, 0, banks);
  const playing = new Playing(makeShow(makeRig([boardDevice, device], [], [board]), { presets: [preset] }));
  for (const [atMs, index, edge] of feet)
    playing.wait(atMs).hear(atMs, controller(15, 30 + index, edge === 'down' ? 127 : 0));
  return playing.wait(untilMs);
}
const set = (value: number) => ({ kind: 'set' as const, functionId: 'level', value });
const tap = (atMs: number, index = 0, forMs = 80) =>
  [
    [atMs, index, 'down'],
    [atMs + forMs, index, 'up'],
  ] as const;

describe('gestures, in bytes', () => {
  const busy = assign('s0', [set(1)], [set(2)], { hold: [set(3)], doublePress: [set(4)] });
  it.each<[string, readonly (readonly [number, number, 'down' | 'up'])[], string[]]>([
    ['a tap waits for the second press', tap(0), ['300 B0 15 01', '300 B0 15 02']],
    ['a double press', [...tap(0), ...tap(150)], ['150 B0 15 04', '230 B0 15 02']],
    ['a hold fires at its time', tap(0, 0, 900), ['300 B0 15 01', '600 B0 15 03', '900 B0 15 02']],
  ])('%s', (_name, feet, sent) => expect(play([[busy]], feet).sent).toEqual(sent));

  it('a press across a change of bank fires as what it was, and the next one as what it is', () => {
    const banks = [
      [busy, assign('s1', [{ kind: 'bank', to: { kind: 'up' } }])],
      [assign('s0', [set(9)], [set(10)])],
    ];
    const feet = [...tap(0), ...tap(100, 1, 20), ...tap(200)].sort((a, b) => a[0] - b[0]);
    // The first press still waits when the bank turns; its second tap belongs to the other bank.
    expect(play(banks, feet).sent).toEqual(['200 B0 15 01', '200 B0 15 02', '200 B0 15 09', '280 B0 15 0A']);
  });

  it('a release whose press belonged to another bank does what was assigned there', () => {
    const banks = [
      [assign('s0', [set(1)], [set(2)]), assign('s1', [{ kind: 'bank', to: { kind: 'up' } }])],
      [assign('s0', [set(9)], [set(10)])],
    ];
    const feet = [
      [0, 0, 'down'],
      [50, 1, 'down'],
      [60, 1, 'up'],
      [100, 0, 'up'],
    ] as const;
    expect(play(banks, feet).sent).toEqual(['0 B0 15 01', '100 B0 15 02']);
  });

  it('two switches at once keep their times apart', () => {
    const other = assign('s1', [set(11)], [], { hold: [set(13)] });
    const feet = [
      [0, 0, 'down'],
      [100, 1, 'down'],
      [650, 0, 'up'],
      [750, 1, 'up'],
    ] as const;
    expect(play([[busy, other]], feet).sent).toEqual([
      '100 B0 15 0B',
      '300 B0 15 01',
      '600 B0 15 03',
      '650 B0 15 02',
      '700 B0 15 0D',
    ]);
  });

  it('hardware that always sends the same value toggles once a press, and so does one that sends 127 and 0', () => {
    const toggle = assign('s0', [{ kind: 'toggle', functionId: 'echo' }]);
    const same = [0, 500, 1000].map((atMs) => [atMs, 0, 'down'] as const);
    const values = ['B0 14 7F', 'B0 14 00', 'B0 14 7F'];
    expect(play([[toggle]], same).sent.map((s) => s.slice(-8))).toEqual(values);
    expect(play([[toggle]], [...tap(0), ...tap(500), ...tap(1000)]).sent.map((s) => s.slice(-8))).toEqual(
      values,
    );
  });
});

describe('actions', () => {
  it('wait for their delay, in ms and in beats of 120 bpm, and are left out when they are off', () => {
    const late = assign('s0', [
      { ...set(1), delay: { amount: 250, unit: 'ms' } } as never,
      { ...set(2), delay: { amount: 4, unit: 'beats' } } as never,
      { ...set(3), isOff: true } as never,
      set(4),
    ]);
    // Four beats at 120 bpm are 2 s.
    expect(play([[late]], tap(0)).sent).toEqual(['0 B0 15 04', '250 B0 15 01', '2000 B0 15 02']);
  });

  it('momentary: one value down, another up, from a press and from a hold', () => {
    const momentary = { kind: 'momentary' as const, functionId: 'level', down: 100, up: 20 };
    expect(play([[assign('s0', [momentary])]], tap(0)).sent).toEqual(['0 B0 15 64', '80 B0 15 14']);
    const held = assign('s0', [], [], { hold: [momentary] });
    expect(play([[held]], tap(0, 0, 700)).sent).toEqual(['600 B0 15 64', '700 B0 15 14']);
    expect(play([[held]], tap(0, 0, 500)).sent).toEqual([]);
  });

  it.each([
    ['forward', 'round', [5, 7, 9, 5]],
    ['forward', 'stop', [5, 7, 9, 9]],
    ['back', 'round', [9, 7, 5, 9]],
    ['back', 'stop', [9, 7, 5, 5]],
  ] as const)('step %s, and %s at the end', (direction, atEnd, values) => {
    const stepping = assign('s0', [
      { kind: 'step', functionId: 'level', values: [5, 7, 9], direction, atEnd },
    ]);
    const feet = [0, 1, 2, 3].flatMap((i) => tap(i * 500));
    expect(play([[stepping]], feet).sent.map((s) => parseInt(s.slice(-2), 16))).toEqual(values);
  });

  it('step goes on from where the function is', () => {
    const banks = [
      [
        assign('s0', [
          { kind: 'step', functionId: 'level', values: [5, 7, 9], direction: 'forward', atEnd: 'round' },
        ]),
        assign('s1', [set(7)]),
      ],
    ];
    expect(play(banks, [...tap(0, 1), ...tap(500)]).sent.map((s) => s.slice(-2))).toEqual(['07', '09']);
  });

  it('arm only this track: it is armed before the others are let go, and nothing is sent twice', () => {
    const arming = [
      [
        assign('s0', [{ kind: 'arm-only', functionId: 'arm-1' }]),
        assign('s1', [{ kind: 'arm-only', functionId: 'arm-2' }]),
      ],
    ];
    // Controllers 40 to 42 arm the tracks Bow, Voice and Hum; nothing is known of them at first.
    expect(play(arming, [...tap(0), ...tap(500, 1), ...tap(1000, 1)]).sent).toEqual([
      '0 B0 28 7F',
      '0 B0 29 00',
      '0 B0 2A 00',
      '500 B0 29 7F',
      '500 B0 28 00',
    ]);
  });

  it('tap tempo: taps half a second apart are 120 bpm', () => {
    const { state } = play(
      [[assign('s0', [{ kind: 'tap' }])]],
      [0, 500, 1000, 1500].flatMap((t) => tap(t)),
    );
    expect(state.tempo.bpm).toBeCloseTo(120, 5);
  });
});

describe('whatever the feet do', () => {
  const momentaryNote = { kind: 'momentary' as const, functionId: 'note', down: 1, up: 0 };
  const anyFeet = fc
    .array(fc.tuple(fc.nat(2), fc.integer({ min: 1, max: 400 }), fc.integer({ min: 1, max: 900 })), {
      maxLength: 15,
    })
    .map((taps) => {
      let atMs = 0;
      return taps.flatMap(([index, rest, down]) => {
        const downAt = (atMs += rest);
        atMs += down;
        return [[downAt, index, 'down'] as const, [atMs, index, 'up'] as const];
      });
    });
  const banks = [
    [
      assign('s0', [momentaryNote], [], { doublePress: [momentaryNote] }),
      assign('s1', [{ kind: 'bank', to: { kind: 'up' } }], [], { hold: [momentaryNote] }),
      assign('s2', [{ kind: 'panic' }]),
    ],
    [
      assign('s0', [], [], { hold: [momentaryNote], timing: { holdMs: 150 } }),
      assign('s1', [{ kind: 'bank', to: { kind: 'up' } }]),
      assign('s2', [momentaryNote], [], { hold: [{ kind: 'panic' }], timing: { holdCancelsPress: true } }),
    ],
  ];

  it('no note is left sounding once every switch is up', () =>
    fc.assert(
      fc.property(anyFeet, (feet) => {
        expect(play(banks, feet, 1e6).state.sounding).toEqual([]);
      }),
      { seed: 46, numRuns: 300 },
    ));

  it('a toggle and its lamp agree, whatever makes the press wait', () =>
    fc.assert(
      fc.property(anyFeet, fc.boolean(), (feet, waits) => {
        const toggling = [
          [
            assign(
              's0',
              [{ kind: 'toggle', functionId: 'echo' }],
              [],
              waits ? { doublePress: [set(1)] } : {},
            ),
            assign('s1', [set(3)]),
          ],
        ];
        const { world, state } = play(toggling, feet, 1e6);
        expect(isLampLit(state, 's0')).toBe(valuesOf(world, state)['echo'] === 1);
      }),
      { seed: 47, numRuns: 200 },
    ));
});
