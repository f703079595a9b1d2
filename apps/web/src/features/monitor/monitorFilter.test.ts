import { controller, noteOn, realTime } from '@idle-step/core/midi';
import { demoRig } from '@idle-step/demo';
import fc from 'fast-check';
import { expect, it } from 'vitest';
import { isMessage, type LogLine } from '../../live/log/logLine';
import { LOG_LIMIT, MonitorLog } from '../../live/log/monitorLog';
import { ALL_LINES, allOf, FilteredLines, frozen, NO_LINES, passes } from './monitorFilter';

const KINDS = { note: noteOn(0, 60, 1), value: controller(0, 7, 1), clock: realTime('clock') };

/** @returns the log's own lines that were added. */
function add(log: MonitorLog, kinds: readonly (keyof typeof KINDS)[]): readonly LogLine[] {
  const before = log.total;
  for (const kind of kinds)
    log.add({
      kind: 'in',
      message: KINDS[kind],
      atMs: log.total,
      wallMs: 0,
      portId: 'a',
      rig: demoRig,
      device: null,
      fn: null,
      controlName: '',
      sequence: null,
      real: true,
      taken: true,
      expected: null,
      lateMs: null,
    });
  return log.since(before);
}

const WITHOUT_VALUES = { ...ALL_LINES, hidden: ['controllers' as const] };

it('holds the lines that pass, whenever it is looked at', () => {
  const kinds = fc.array(fc.constantFrom<keyof typeof KINDS>('note', 'value', 'clock'), { maxLength: 30 });
  fc.assert(
    fc.property(
      fc.array(fc.tuple(kinds, fc.boolean()), { maxLength: 12 }),
      fc.constantFrom(ALL_LINES, WITHOUT_VALUES, { ...ALL_LINES, timing: true }),
      (steps, filter) => {
        const log = new MonitorLog();
        const filtered = new FilteredLines(log, filter);
        const all: LogLine[] = [];
        for (const [kinds, isLookedAt] of steps) {
          all.push(...add(log, kinds));
          if (!isLookedAt) continue;
          const wanted = all.filter((line) => passes(filter, line));
          const lines = filtered.update();
          expect(allOf(lines)).toEqual(wanted);
          expect(lines.total).toBe(wanted.length);
          // Nothing new: nothing that would be drawn anew.
          expect(filtered.update()).toBe(lines);
          const clocks = all.filter((l) => isMessage(l) && l.message.kind === 'clock').length;
          expect(filtered.timing).toBe(filter.timing ? 0 : clocks);
        }
      },
    ),
    { numRuns: 200 },
  );
});

it('holds what passed long after the log has let go of it, and no more than the log would', () => {
  const log = new MonitorLog();
  const notes = new FilteredLines(log, WITHOUT_VALUES);
  const [first] = add(log, ['note']);
  for (let i = 0; i < 5; i++) {
    add(log, Array<'value'>(LOG_LIMIT / 2).fill('value'));
    expect(allOf(notes.update())).toEqual([first]);
  }
  expect(log.since(0)).not.toContainEqual(first);
  const more = add(log, Array<'note'>(LOG_LIMIT).fill('note'));
  const full = notes.update();
  expect([full.length, full.total]).toEqual([LOG_LIMIT, LOG_LIMIT + 1]);
  expect(full.at(0)).toEqual(more[0]);
  expect(full.at(LOG_LIMIT - 1)).toEqual(more.at(-1));
});

it('what is frozen stays as it is; what is still drawn is read while new lines come', () => {
  const log = new MonitorLog();
  const filtered = new FilteredLines(log, ALL_LINES);
  const old = add(log, Array<'note'>(LOG_LIMIT).fill('note'));
  const drawn = filtered.update();
  const still = frozen(drawn);
  for (let i = 0; i < 3; i++) {
    if (i === 2) expect(allOf(drawn)).not.toEqual(old);
    else expect(allOf(drawn)).toEqual(old);
    add(log, Array<'value'>(LOG_LIMIT).fill('value'));
    filtered.update();
  }
  expect(allOf(still)).toEqual(old);
  expect([NO_LINES.length, allOf(NO_LINES)]).toEqual([0, []]);
});

it('looked at after a long while, as a window is that was hidden in a flood, it holds what the log still does', () => {
  const log = new MonitorLog();
  const filtered = new FilteredLines(log, ALL_LINES);
  const old = add(log, Array<'note'>(LOG_LIMIT).fill('note'));
  const drawn = filtered.update();
  add(log, Array<'value'>(LOG_LIMIT * 2 + 7).fill('value'));
  expect(allOf(filtered.update())).toEqual(log.since(0));
  // What was drawn before is read once more while the new lines come into their rows.
  expect(allOf(drawn)).toEqual(old);
});
