import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { anyPlanned, anyShown, planOtherwise, shownOtherwise } from './shownRuns.test-support';

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
  it('a pad that always sends the same is shown with what it sends', () => {
    const touch = { velocity: 'fixed', fixed: 100, curve: 'linear', pressure: 'off', controller: 1 };
    const action = { kind: 'message', deviceId: 'gear', channel: null, send: 'note', number: 60, value: 127 };
    expect(
      shownOtherwise({ action, kind: 'pad', touch: touch as never, feel: null, gesture: 'press' }),
    ).toBeNull();
  });
});
