import { ACTION_LISTS } from './gesture';
import { functionOfAction, type Action, type Assignment, type Bank, type Preset } from './preset';

/**
 * A preset without what points at functions, routes and controls that go: their actions, sweeps and assignments. Assignments
 * that are left with nothing stay, with their label. The same object comes back when nothing pointed there.
 * @param functionIds of functions and of routes.
 */
export function presetWithout(
  preset: Preset,
  functionIds: ReadonlySet<string>,
  controlIds: ReadonlySet<string>,
): Preset {
  const points = (action: Action) =>
    functionIds.has('routeId' in action ? action.routeId : (functionOfAction(action) ?? ''));
  let isTouched = false;
  const keep = <T>(list: readonly T[], goes: (item: T) => boolean): readonly T[] => {
    if (!list.some(goes)) return list;
    isTouched = true;
    return list.filter((item) => !goes(item));
  };
  const inPage = (page: Bank): Bank => ({
    ...page,
    assignments: keep(page.assignments, (a) => controlIds.has(a.controlId)).map((a) => ({
      ...a,
      ...Object.fromEntries(ACTION_LISTS.map((list) => [list, keep(a[list], points)])),
      sweeps: keep(a.sweeps, (s) => functionIds.has(s.functionId)),
      lamp: lampStays(a) ? a.lamp : lampGone(),
    })),
  });
  const lampStays = ({ lamp }: Pick<Assignment, 'lamp'>) =>
    lamp?.kind !== 'function' || !functionIds.has(lamp.functionId);
  const lampGone = () => {
    isTouched = true;
    return null;
  };
  const banks = preset.banks.map(inPage);
  const groups = preset.groups.map((g) => ({
    ...g,
    controlIds: keep(g.controlIds, (id) => controlIds.has(id)),
    pages: g.pages.map(inPage),
  }));
  const feel = preset.feel.map((f) => (lampStays(f) ? f : { ...f, lamp: lampGone() }));
  return isTouched ? { ...preset, banks, groups, feel } : preset;
}
