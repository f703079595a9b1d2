import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { anyPlanned, anyShown, planOtherwise, shownOtherwise, type Shown } from './shownRuns.test-support';

describe('what is shown is what is sent', () => {
  it('of an action, whatever the control, its gesture and how it feels', () => {
    fc.assert(
      fc.property(anyShown, (shown) => {
        expect(shownOtherwise(shown)).toBeNull();
      }),
      { seed: 9, numRuns: 1000 },
    );
  });
  it('in the plan into a scene, with when the rig stands', () => {
    fc.assert(
      fc.property(anyPlanned, (scenes) => {
        expect(planOtherwise(scenes)).toBeNull();
      }),
      { seed: 10, numRuns: 300 },
    );
  });
  const plain = {
    past: [] as Shown['past'],
    asked: false,
    kind: 'footswitch',
    touch: null,
    feel: null,
    gesture: 'press',
  } as const;
  it.each([false, true])('a toggle in a scene that loads a program, asked first: %s', (asked) => {
    const past = [{ set: 'drive', value: 1 }, { scene: 2 }];
    const actions = [{ kind: 'toggle', functionId: 'drive' }];
    expect(shownOtherwise({ ...plain, past, actions, asked })).toBeNull();
  });
  it('a list of steps that stands in its midst', () => {
    const step = {
      kind: 'step',
      functionId: 'level',
      values: [10, 20, 30],
      direction: 'forward',
      atEnd: 'wrap',
    };
    const past = [{ press: true as const }, { press: true as const }];
    expect(shownOtherwise({ ...plain, past, actions: [step] })).toBeNull();
  });
  it('a pad that always sends the same is shown with what it sends', () => {
    const touch = { velocity: 'fixed', fixed: 100, curve: 'linear', pressure: 'off', controller: 1 };
    const action = { kind: 'message', deviceId: 'gear', channel: null, send: 'note', number: 60, value: 127 };
    expect(shownOtherwise({ ...plain, actions: [action], kind: 'pad', touch: touch as never })).toBeNull();
  });
});
