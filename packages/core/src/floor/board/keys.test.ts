import { describe, expect, it } from 'vitest';
import { learn } from './learn';
import { KEY_NUMBERS, keyName, keyNumber } from './keys';

describe('keys of the computer', () => {
  // USB HID Usage Tables 1.12, keyboard/keypad page, and the codes of W3C UI Events (both from memory).
  it.each([
    ['KeyA', 0x04, 'A'],
    ['KeyZ', 0x1d, 'Z'],
    ['Digit1', 0x1e, '1'],
    ['Digit0', 0x27, '0'],
    ['Enter', 0x28, 'Enter'],
    ['Space', 0x2c, 'Space'],
    ['F1', 0x3a, 'F1'],
    ['F12', 0x45, 'F12'],
    ['F13', 0x68, 'F13'],
    ['F24', 0x73, 'F24'],
    ['PageUp', 0x4b, 'Page Up'],
    ['PageDown', 0x4e, 'Page Down'],
    ['ArrowRight', 0x4f, 'Right arrow'],
    ['ArrowUp', 0x52, 'Up arrow'],
    ['NumpadEnter', 0x58, 'Keypad Enter'],
    ['Numpad1', 0x59, 'Keypad 1'],
    ['Numpad9', 0x61, 'Keypad 9'],
    ['Numpad0', 0x62, 'Keypad 0'],
  ])('%s is usage %i, %s', (code, number, name) => {
    expect([keyNumber(code), keyName(number)]).toEqual([number, name]);
  });

  it.each(['Escape', 'Tab', 'ShiftLeft', 'ControlRight', 'MetaLeft', ''])('%s is no control', (code) => {
    expect(keyNumber(code)).toBeNull();
  });

  it('each is there once, within 7 bits', () => {
    expect(new Set(KEY_NUMBERS).size).toBe(KEY_NUMBERS.length);
    expect(KEY_NUMBERS.every((n) => n >= 4 && n <= 127)).toBe(true);
    expect(new Set(KEY_NUMBERS.map(keyName)).size).toBe(KEY_NUMBERS.length);
  });

  it('is learned by one press, before anything that came by a port', () => {
    const heard = [
      { atMs: 0, portId: 'p', message: { kind: 'note-on', channel: 0, note: 60, velocity: 9 } },
      { atMs: 5, key: 78, isDown: true },
      { atMs: 90, key: 78, isDown: false },
    ] as const;
    const [first] = learn(heard as never, 'footswitch');
    expect(first).toMatchObject({ sends: { kind: 'key', number: 78 }, wants: null, portId: '' });
    expect(learn(heard as never, 'expression-pedal')).toEqual([]);
  });
});
