import { describe, expect, it } from 'vitest';
import {
  controller,
  controller14,
  noteOff,
  noteOn,
  parameterMessages,
  pitchBend,
  program,
  realTime,
  channelPressure,
  type Message,
} from '../../midi';
import { PLAIN_CONTROL } from './board';
import { boundAlready, learn, relativeByte, type ControlKind, type Heard } from '../index';

type Played = readonly (readonly [number, Message | readonly Message[]])[];

/** What was played on channel 1, among clock, active sensing and a pedal on CC 12 that trembles by a step or two. */
function recorded(played: Played): Heard[] {
  const heard: Heard[] = played.flatMap(([atMs, said]) =>
    [said].flat().map((message, i) => ({ atMs: atMs + i * 0.96, portId: 'in', message: message as Message })),
  );
  const noise = Array.from({ length: 120 }, (_, i): Heard[] => [
    { atMs: i * 20.833, portId: 'in', message: realTime('clock') },
    { atMs: i * 25, portId: 'in', message: realTime('active-sensing') },
    { atMs: i * 22, portId: 'in', message: controller(0, 12, 63 + ((i * 7) % 3)) },
  ]);
  return [...heard, ...noise.flat()].sort((a, b) => a.atMs - b.atMs);
}
const cc = (number: number, value: number) => controller(0, number, value);
const each = <T>(
  values: readonly T[],
  make: (value: T) => Message | readonly Message[],
  stepMs = 30,
): Played => values.map((v, i) => [i * stepMs, make(v)] as const);
const sweep = [4, 9, 20, 34, 33, 50, 70, 69, 90, 110, 118, 121];

type Case = readonly [
  name: string,
  wanted: ControlKind,
  played: Played,
  /** How long it has rested, in ms. */
  restedMs: number,
  sends: string,
  looksLike: RegExp,
  wants: string | null,
];

const cases: readonly Case[] = [
  [
    'a momentary switch',
    'footswitch',
    [
      [100, cc(20, 127)],
      [220, cc(20, 0)],
    ],
    5000,
    'controller 20',
    /momentary/,
    null,
  ],
  [
    'one that was pressed twice',
    'footswitch',
    [
      [0, cc(20, 127)],
      [99, cc(20, 0)],
      [900, cc(20, 127)],
      [990, cc(20, 0)],
    ],
    5000,
    'controller 20',
    /momentary/,
    null,
  ],
  [
    'only one movement',
    'footswitch',
    [[100, cc(21, 127)]],
    5000,
    'controller 21',
    /one movement/,
    'press-again',
  ],
  [
    'a latching switch',
    'footswitch',
    [
      [100, cc(21, 127)],
      [2400, cc(21, 0)],
      [4000, cc(21, 127)],
    ],
    5000,
    'controller 21',
    /latching/,
    null,
  ],
  [
    'one that moved once each time, asked for twice',
    'footswitch',
    [
      [100, cc(21, 127)],
      [2400, cc(21, 0)],
    ],
    5000,
    'controller 21',
    /one movement/,
    'press-again',
  ],
  [
    'one held for 1.5 s, or a latching one pressed twice',
    'footswitch',
    [
      [100, cc(20, 127)],
      [1600, cc(20, 0)],
    ],
    5000,
    'controller 20',
    /one movement/,
    'press-again',
  ],
  ...[250, 400, 800, 1500, 3000].map((ms): Case => [
    `a latching switch pressed three times, one press each ${ms} ms`,
    'footswitch',
    [0, 1, 2].map((i) => [100 + i * ms, cc(21, i % 2 === 0 ? 127 : 0)] as const),
    Math.max(500, 1.2 * ms),
    'controller 21',
    /latching/,
    null,
  ]),
  ...[350, 800, 1500, 3000].flatMap((ms): Case[] =>
    [0.4, 0.8, 1.3, 3].map((share): Case => [
      `a momentary switch held ${ms} ms, three times, with pauses of ${Math.round(ms * share)} ms`,
      'footswitch',
      [0, 1, 2].flatMap((i) => {
        const at = 100 + i * ms * (1 + share);
        return [
          [at, cc(20, 127)],
          [at + ms * (i === 1 ? 1.4 : 1), cc(20, 0)],
        ] as const;
      }),
      0,
      'controller 20',
      /momentary/,
      null,
    ]),
  ),
  [
    'one that is held for the third time',
    'footswitch',
    [
      [100, cc(20, 127)],
      [900, cc(20, 0)],
      [1700, cc(20, 127)],
    ],
    600,
    'controller 20',
    /one movement/,
    'press-again',
  ],
  [
    'one held until it was asked for once more, then pressed',
    'footswitch',
    [
      [100, cc(20, 127)],
      [2600, cc(20, 0)],
      [3400, cc(20, 127)],
      [3520, cc(20, 0)],
    ],
    5000,
    'controller 20',
    /momentary/,
    null,
  ],
  [
    'one that always sends the same',
    'footswitch',
    [
      [100, cc(22, 127)],
      [1400, cc(22, 127)],
    ],
    5000,
    'controller 22',
    /always/,
    null,
  ],
  [
    'one that always sends 0',
    'footswitch',
    [
      [100, cc(22, 0)],
      [1400, cc(22, 0)],
    ],
    5000,
    'controller 22',
    /always/,
    null,
  ],
  [
    'one that sends 64 and 1',
    'footswitch',
    [
      [100, cc(80, 64)],
      [220, cc(80, 1)],
    ],
    5000,
    'controller 80',
    /momentary/,
    null,
  ],
  [
    'a switch that sends a note',
    'footswitch',
    [
      [100, noteOn(0, 36, 127)],
      [220, noteOff(0, 36)],
    ],
    5000,
    'note 36',
    /momentary/,
    null,
  ],
  [
    'a note that ends with velocity 0',
    'footswitch',
    [
      [100, noteOn(0, 36, 127)],
      [220, noteOn(0, 36, 0)],
    ],
    5000,
    'note 36',
    /momentary/,
    null,
  ],
  [
    'a switch that says down and up at once',
    'footswitch',
    [
      [100, cc(24, 127)],
      [101, cc(24, 0)],
    ],
    5000,
    'controller 24',
    /momentary/,
    null,
  ],
  ['a program', 'footswitch', [[100, program(0, 5)]], 5000, 'program 5', /program/, null],
  [
    'a switch whose contacts bounce',
    'footswitch',
    [
      [100, cc(23, 127)],
      [102, cc(23, 0)],
      [105, cc(23, 127)],
      [240, cc(23, 0)],
      [243, cc(23, 127)],
      [246, cc(23, 0)],
    ],
    5000,
    'controller 23',
    /momentary/,
    null,
  ],
  [
    'a pad struck softly and hard',
    'pad',
    [
      [100, noteOn(0, 40, 33)],
      [180, noteOff(0, 40)],
      [700, noteOn(0, 40, 120)],
      [790, noteOff(0, 40)],
    ],
    5000,
    'note 40',
    /struck/,
    null,
  ],
  [
    'a pad that presses on',
    'pad',
    [
      [100, noteOn(0, 41, 90)],
      [110, channelPressure(0, 20)],
      [120, channelPressure(0, 60)],
      [200, noteOff(0, 41)],
    ],
    5000,
    'note 41',
    /momentary|struck/,
    null,
  ],
  [
    'a key',
    'key',
    [
      [100, noteOn(0, 60, 80)],
      [300, noteOff(0, 60)],
    ],
    5000,
    'note 60',
    /momentary/,
    null,
  ],
  [
    'a pedal from heel to toe',
    'expression-pedal',
    each(sweep, (v) => cc(11, v)),
    5000,
    'controller 11',
    /4 to 121/,
    null,
  ],
  [
    'a pedal that was hardly moved',
    'expression-pedal',
    each([40, 44, 50, 55, 61], (v) => cc(11, v)),
    5000,
    'controller 11',
    /40 to 61/,
    'full-travel',
  ],
  [
    'a pedal in 14 bits',
    'expression-pedal',
    each(sweep, (v) => controller14(0, 4, v * 129)),
    5000,
    'controller-14 4',
    /14 bits/,
    null,
  ],
  [
    'a pedal as a parameter',
    'expression-pedal',
    each(sweep, (v) => parameterMessages('nrpn', 0, 1000, v * 129)),
    5000,
    'nrpn 1000',
    /parameter/,
    null,
  ],
  [
    'a bend strip',
    'strip',
    each([0, 40, 90, 120, 127], (v) => pitchBend(0, v * 129)),
    5000,
    'pitch-bend 0',
    /0 to 127/,
    null,
  ],
  [
    'a fader while a switch is pressed',
    'fader',
    [...each(sweep, (v) => cc(30, v)), [95, cc(20, 127)], [170, cc(20, 0)]],
    5000,
    'controller 30',
    /4 to 121/,
    null,
  ],
  [
    'a switch while a fader is moved',
    'footswitch',
    [...each(sweep, (v) => cc(30, v)), [95, cc(20, 127)], [170, cc(20, 0)]],
    5000,
    'controller 20',
    /momentary/,
    null,
  ],
  ...(['twos-complement', 'offset-64', 'sign-bit', 'sign-bit-inverted'] as const).map((encoding): Case => [
    `an encoder in ${encoding}, right and back`,
    'encoder',
    each([1, 1, 1, 2, 1, -1, -1, -2, -1], (s) => cc(16, relativeByte(encoding, s))),
    5000,
    'controller 16',
    /encoder/,
    null,
  ]),
  [
    'an encoder turned to one side only',
    'encoder',
    each([1, 1, 1, 1], () => cc(16, 0x41)),
    5000,
    'controller 16',
    /encoder/,
    'turn-back',
  ],
  ['one step of an encoder', 'encoder', [[100, cc(16, 0x41)]], 5000, 'controller 16', /encoder/, 'turn-back'],
  [
    'a knob that says its place',
    'knob',
    each(sweep, (v) => cc(16, v)),
    5000,
    'controller 16',
    /4 to 121/,
    null,
  ],
];

describe('learning among clock, active sensing and a trembling pedal', () => {
  it.each(cases)('finds %s', (_name, wanted, played, restedMs, sends, looksLike, wants) => {
    const heard = recorded(played);
    const [best] = learn(heard, wanted, played.at(-1)![0] + restedMs);
    expect(`${best?.sends.kind} ${best?.sends.number}`).toBe(sends);
    expect(best?.looksLike).toMatch(looksLike);
    expect(best?.wants).toBe(wants);
    expect(best?.channel).toBe(0);
  });

  it('tells each encoding by name once it was turned both ways', () => {
    for (const encoding of ['twos-complement', 'offset-64', 'sign-bit', 'sign-bit-inverted'] as const) {
      const played = each([1, 1, 2, -1, -1], (s) => cc(16, relativeByte(encoding, s)));
      expect(learn(recorded(played), 'encoder')[0]?.hardware.encoding).toBe(encoding);
    }
  });

  it('takes over real ends, jitter and bouncing', () => {
    const pedal = learn(recorded(each(sweep, (v) => cc(11, v))), 'expression-pedal')[0];
    expect(pedal?.hardware).toMatchObject({ heel: 4, toe: 121, jitter: 2 });
    const bouncing = learn(
      recorded(cases.find(([name]) => name === 'a switch whose contacts bounce')![2]),
      'footswitch',
    )[0];
    expect(bouncing?.hardware.debounceMs).toBeGreaterThanOrEqual(8);
    expect(bouncing?.hardware.switching).toBe('momentary');
  });

  it('shows every candidate when several things were touched, and none when nothing was', () => {
    const both = recorded([
      [0, cc(20, 127)],
      [80, cc(20, 0)],
      [200, cc(21, 127)],
      [280, cc(21, 0)],
    ]);
    expect(learn(both, 'footswitch').map((c) => c.sends.number)).toEqual([20, 21]);
    expect(learn(recorded([]), 'footswitch')).toEqual([]);
    expect(learn(recorded([]), 'expression-pedal')).toEqual([]);
  });

  it('says which control sends the same already', () => {
    const size = { xMm: 0, yMm: 0, widthMm: 1, heightMm: 1 };
    const control = {
      ...PLAIN_CONTROL,
      ...size,
      id: 'a',
      name: 'far 1',
      kind: 'footswitch' as const,
      sends: { kind: 'controller' as const, number: 20 },
    };
    const candidate = learn(recorded(cases[0]![2]), 'footswitch')[0]!;
    expect(boundAlready([control], 0, candidate, 'b')?.name).toBe('far 1');
    expect(boundAlready([control], 0, candidate, 'a')).toBeNull();
    expect(boundAlready([control], 9, candidate, 'b')).toBeNull();
  });
});
