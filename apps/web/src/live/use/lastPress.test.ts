import type { Effect, LiveState, LiveNote } from '@idle-step/core/engine';
import { controller } from '@idle-step/core/midi';
import { describe, expect, it } from 'vitest';
import { lastPressAfter } from './lastPress';

const message = controller(0, 7, 1);
const send: Effect = {
  kind: 'send',
  portId: 'out',
  message,
  functionId: null,
  routeId: null,
  dueMs: 0,
  atMs: 0,
};
const note = (n: LiveNote): Effect => ({ kind: 'note', note: n });
const pressed = note({ code: 'pressed', controlId: 'a', label: 'VERSE' });

/** Of a state it reads these alone. @param later messages that wait for a device. @param isPending of the control `a`. */
const stateWith = (later: number, isPending = false): LiveState =>
  ({
    pending: later > 0 ? [{ messages: Array.from({ length: later }, () => message) }] : [],
    held: { a: { gesture: { isPending } } },
  }) as unknown as LiveState;

describe('the last press', () => {
  it('counts what left and what still waits for a device, and says when the scene stands', () => {
    const scene = note({ code: 'recalled', songIndex: 0, sceneIndex: 1, settlesInMs: 45 });
    expect(lastPressAfter(null, stateWith(2), [pressed, scene, send], 1, 5)).toEqual({
      wallMs: 5,
      controlId: 'a',
      label: 'VERSE',
      messages: 3,
      untaken: 1,
      waits: false,
      settledInMs: 45,
      trouble: null,
    });
  });

  it('says the first trouble that it brought', () => {
    const gone = note({ code: 'bank-gone' });
    expect(lastPressAfter(null, stateWith(0), [pressed, gone], 0, 0)?.trouble).toBe('bank-gone');
  });

  it('stays while other things leave, and is replaced by the next one', () => {
    const before = lastPressAfter(null, stateWith(0), [pressed, send], 0, 0);
    expect(lastPressAfter(before, stateWith(0), [send, send], 0, 9)).toBe(before);
    const other = note({ code: 'pressed', controlId: 'b', label: 'SOLO' });
    expect(lastPressAfter(before, stateWith(0), [other], 0, 9)).toMatchObject({ label: 'SOLO', messages: 0 });
  });

  it('that waits for a second press counts what it sends once that did not come', () => {
    const before = lastPressAfter(null, stateWith(0, true), [pressed], 0, 0);
    expect(before).toMatchObject({ waits: true, messages: 0 });
    expect(lastPressAfter(before, stateWith(0, true), [send], 0, 9)).toBe(before);
    expect(lastPressAfter(before, stateWith(1), [send], 1, 9)).toMatchObject({
      waits: false,
      wallMs: 0,
      messages: 2,
      untaken: 1,
    });
  });
});
