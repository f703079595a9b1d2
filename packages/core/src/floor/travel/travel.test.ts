import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  applyCurve,
  calibrate,
  moveContact,
  contactDueMs,
  PLAIN_HARDWARE,
  settledContact,
  steadied,
  takeOver,
  travelOf,
  type ControlMove,
  placeForValue,
  sweepValue,
} from '../index';

describe('travel', () => {
  const worn = { heel: 7, toe: 119, deadZone: 0 };
  it.each([
    [0, 0],
    [7, 0],
    [63, 63.5],
    [119, 127],
    [127, 127],
  ])('of a pedal from 7 to 119: %i is %d', (position, travel) =>
    expect(travelOf(worn, position)).toBeCloseTo(travel, 9),
  );
  it('goes the other way where heel and toe are swapped', () =>
    expect([7, 119].map((p) => travelOf({ ...worn, heel: 119, toe: 7 }, p))).toEqual([127, 0]));
  it('reaches both ends within its dead zones and the middle in the middle', () => {
    const zoned = { heel: 0, toe: 127, deadZone: 10 };
    expect([0, 12.7, 63.5, 114.3, 127].map((p) => Math.round(travelOf(zoned, p) * 1e6) / 1e6)).toEqual([
      0, 0, 63.5, 127, 127,
    ]);
    expect(travelOf(zoned, 13)).toBeGreaterThan(0);
    expect(travelOf(zoned, 114)).toBeLessThan(127);
  });
  it('never falls as the pedal rises', () => {
    fc.assert(
      fc.property(fc.nat(60), fc.integer({ min: 70, max: 127 }), fc.nat(20), (heel, toe, deadZone) => {
        for (let p = 1; p < 128; p++)
          expect(travelOf({ heel, toe, deadZone }, p)).toBeGreaterThanOrEqual(
            travelOf({ heel, toe, deadZone }, p - 1),
          );
      }),
      { seed: 72, numRuns: 50 },
    );
  });
});

describe('trembling', () => {
  const hardware = { ...PLAIN_HARDWARE, jitter: 3 };
  it.each([
    ['less than its jitter stays', 60, 62, 60],
    ['its jitter moves', 60, 63, 63],
    ['back by less stays', 60, 58, 60],
    ['the toe is always reached', 126, 127, 127],
    ['the heel is always reached', 1, 0, 0],
  ])('%s', (_name, before, position, after) => expect(steadied(hardware, before, position)).toBe(after));
  it('says nothing of the first position', () => expect(steadied(hardware, undefined, 1)).toBe(1));
});

describe('calibration', () => {
  it('finds the ends and the jitter of a full movement', () =>
    expect(calibrate([6, 20, 19, 40, 60, 58, 90, 121, 100, 30])).toEqual({
      heel: 6,
      toe: 121,
      deadZone: 2,
      jitter: 3,
    }));
  it('finds them the other way round', () =>
    expect(calibrate([121, 60, 6])).toEqual({ heel: 121, toe: 6, deadZone: 2, jitter: 0 }));
  it.each([
    ['two positions', [0, 127]],
    ['less than a quarter of the travel', [60, 70, 80, 91]],
  ])('refuses %s', (_name, positions) => expect(calibrate(positions)).toBeNull());
});

describe('taking over', () => {
  const at = (
    before: number | null,
    now: number,
    current: number | null,
    part: Partial<ControlMove> = {},
  ) => ({
    before,
    now,
    current,
    isHeld: false,
    low: 0,
    high: 127,
    ...part,
  });
  it.each<[string, 'jump' | 'pickup' | 'scale', ControlMove, number | null]>([
    ['jump goes there at once', 'jump', at(10, 12, 90), 12],
    ['pickup waits below', 'pickup', at(10, 80, 90), null],
    ['pickup reaches the value from below', 'pickup', at(80, 90, 90), 90],
    ['pickup crosses the value from below', 'pickup', at(85, 95, 90), 95],
    ['pickup waits just below', 'pickup', at(85, 89, 90), null],
    ['pickup waits above', 'pickup', at(120, 91, 90), null],
    ['pickup crosses the value from above', 'pickup', at(95, 85, 90), 85],
    ['pickup reaches the value from above', 'pickup', at(95, 90, 90), 90],
    ['pickup follows what it holds', 'pickup', at(40, 60, 40, { isHeld: true }), 60],
    ['pickup knows nothing of where it was', 'pickup', at(null, 60, 90), null],
    ['pickup of an unknown value', 'pickup', at(10, 60, null), 60],
    ['scale moves by the same share of what is left', 'scale', at(0, 64, 64), 96],
    ['scale downwards', 'scale', at(127, 64, 64), 32],
    ['scale arrives at the end with the control', 'scale', at(100, 127, 20), 127],
    ['scale has no room to go by', 'scale', at(null, 60, 90), null],
  ])('%s', (_name, mode, move, value) => {
    const place = takeOver(mode, move);
    expect(place === null ? null : Math.round(place)).toBe(value);
  });

  it('scale stays within the range and never goes against the foot', () => {
    const d7 = fc.nat(127);
    fc.assert(
      fc.property(d7, d7, d7, (before, now, current) => {
        const value = takeOver('scale', at(before, now, current));
        if (value === null) return;
        expect(value >= 0 && value <= 127).toBe(true);
        if (now !== 0 && now !== 127 && before !== 0 && before !== 127)
          expect(Math.sign(value - current) * Math.sign(now - before)).toBeGreaterThanOrEqual(0);
      }),
      { seed: 73 },
    );
  });
});

describe('a curve of one’s own', () => {
  const points = [
    { x: 0.25, y: 0.5 },
    { x: 0.75, y: 0.6 },
  ];
  it.each([
    [0, 0],
    [0.125, 0.25],
    [0.25, 0.5],
    [0.5, 0.55],
    [0.75, 0.6],
    [0.875, 0.8],
    [1, 1],
  ])('at %d is %d', (x, y) => expect(applyCurve('points', x, points)).toBeCloseTo(y, 12));
});

describe('contacts that bounce', () => {
  /** Feeds changes and waits; gives what was taken as true, and when. */
  const taken = (changes: readonly (readonly [number, boolean])[], debounceMs: number) => {
    const out: string[] = [];
    let contact: ReturnType<typeof moveContact>['contact'] | undefined;
    const wait = (untilMs: number) => {
      const due = contact ? contactDueMs(contact, debounceMs) : null;
      if (contact && due !== null && due <= untilMs) {
        contact = settledContact(contact, due);
        out.push(`${due} ${contact.isDown ? 'down' : 'up'}`);
      }
    };
    for (const [atMs, isDown] of changes) {
      wait(atMs);
      const result = moveContact(contact, isDown, atMs, debounceMs);
      contact = result.contact;
      if (result.changed) out.push(`${atMs} ${isDown ? 'down' : 'up'}`);
    }
    wait(10_000);
    return out;
  };
  it.each([1, 2, 3, 4, 5, 6, 7, 8])('chatter of %i ms is one press and one release', (ms) => {
    const changes = [
      [0, true],
      [ms / 2, false],
      [ms, true],
      [200, false],
      [200 + ms / 2, true],
      [200 + ms, false],
    ] as const;
    expect(taken(changes, 10)).toEqual(['0 down', '200 up']);
  });
  it('counts what comes at the end of its time, not just before', () => {
    expect(
      taken(
        [
          [0, true],
          [10, false],
        ],
        10,
      ),
    ).toEqual(['0 down', '10 up']);
    expect(
      taken(
        [
          [0, true],
          [9.9, false],
        ],
        10,
      ),
    ).toEqual(['0 down', '10 up']);
    expect(
      taken(
        [
          [0, true],
          [9, false],
          [9.5, true],
        ],
        10,
      ),
    ).toEqual(['0 down']);
  });
  it('ends a tap that is shorter than its time', () =>
    expect(
      taken(
        [
          [0, true],
          [3, false],
        ],
        10,
      ),
    ).toEqual(['0 down', '10 up']));
});

it('the place for a value is the one that gives it, or the nearest', () => {
  const sweep = { from: 20, to: 110, invert: false, curve: 'audio' as const, points: [] };
  for (const value of [20, 33, 64, 110])
    expect(Math.abs(sweepValue(sweep, placeForValue(sweep, value)) - value)).toBeLessThan(2);
  expect(sweepValue(sweep, placeForValue(sweep, 5))).toBe(20);
  const turned = { ...sweep, invert: true };
  expect(sweepValue(turned, placeForValue(turned, 110))).toBe(110);
});
