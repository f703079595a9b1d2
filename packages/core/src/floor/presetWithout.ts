import { functionOfAction, type Action, type Preset } from './preset';

/**
 * A preset without what points at functions and controls that go: their actions, sweeps and assignments. Assignments
 * that are left with nothing stay, with their label. The same object comes back when nothing pointed there.
 */
export function presetWithout(
  preset: Preset,
  functionIds: ReadonlySet<string>,
  controlIds: ReadonlySet<string>,
): Preset {
  const points = (action: Action) => functionIds.has(functionOfAction(action) ?? '');
  let isTouched = false;
  const keep = <T>(list: readonly T[], goes: (item: T) => boolean): readonly T[] => {
    if (!list.some(goes)) return list;
    isTouched = true;
    return list.filter((item) => !goes(item));
  };
  const banks = preset.banks.map((bank) => ({
    ...bank,
    assignments: keep(bank.assignments, (a) => controlIds.has(a.controlId)).map((a) => ({
      ...a,
      press: keep(a.press, points),
      release: keep(a.release, points),
      hold: keep(a.hold, points),
      doublePress: keep(a.doublePress, points),
      sweeps: keep(a.sweeps, (s) => functionIds.has(s.functionId)),
    })),
  }));
  return isTouched ? { ...preset, banks } : preset;
}
