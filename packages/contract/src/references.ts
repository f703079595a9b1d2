import {
  ACTION_LISTS,
  type Action,
  type Bank,
  type LampRule,
  type Preset,
  type RigWithBoards,
} from '@idle-step/core/floor';
import { expectedText, takesValue, type ChartFunction, type Device, type Rig } from '@idle-step/core/gear';
import type { Routing } from '@idle-step/core/routing';
import type { Song } from '@idle-step/core/show';

/** A place in a document that points at something that is gone, or gives a function a value it does not take. */
export type ReferenceFault = { readonly path: string; readonly message: string };

type Found = { readonly device: Device; readonly fn: ChartFunction };

/** Every function of a rig by its id. */
export function functionTable(rig: Rig): Map<string, Found> {
  return new Map(rig.devices.flatMap((device) => device.chart.map((fn) => [fn.id, { device, fn }] as const)));
}

/** What a song says about its rig that does not hold. Empty: all holds. */
export function songFaults(rig: Rig, song: Song): ReferenceFault[] {
  const functions = functionTable(rig);
  return song.scenes.flatMap((scene, s) =>
    scene.values.flatMap(({ functionId, value }, v) =>
      valueFault(functions.get(functionId), value, `scenes.${s}.values.${v}`, `${scene.name}:`),
    ),
  );
}

/** What a preset says about its rig and board that does not hold. Empty: all holds. */
export function presetFaults(
  rig: RigWithBoards & { readonly routing?: Routing },
  preset: Preset,
): ReferenceFault[] {
  const board = rig.boards.find((b) => b.id === preset.boardId);
  if (!board) return [{ path: 'boardId', message: 'The board of this preset is gone.' }];
  const controls = new Map(board.controls.map((c) => [c.id, c.name]));
  const known: Known = {
    functions: functionTable(rig),
    banks: new Set(preset.banks.map((b) => b.id)),
    pages: new Map(preset.groups.map((g) => [g.id, new Set(g.pages.map((p) => p.id))])),
    ports: new Set(rig.devices.flatMap((d) => d.ports.map((p) => p.id))),
    devices: new Set(rig.devices.map((d) => d.id)),
    routes: new Set(rig.routing?.routes.map((r) => r.id)),
  };
  return [
    ...preset.banks.flatMap((bank, b) => pageFaults(bank, `banks.${b}`, controls, known)),
    ...preset.groups.flatMap((group, g) => [
      ...group.controlIds.flatMap((id, i) =>
        controls.has(id)
          ? []
          : [
              {
                path: `groups.${g}.controlIds.${i}`,
                message: `${group.name}: the control is gone from the board.`,
              },
            ],
      ),
      ...group.pages.flatMap((page, p) => pageFaults(page, `groups.${g}.pages.${p}`, controls, known)),
    ]),
    ...preset.feel.flatMap((feel, i) => lampFault(feel.lamp, known, `feel.${i}.lamp`, `Every ${feel.kind}:`)),
  ];
}

type Known = {
  readonly functions: ReadonlyMap<string, Found>;
  readonly banks: ReadonlySet<string>;
  /** Pages by group. */
  readonly pages: ReadonlyMap<string, ReadonlySet<string>>;
  readonly ports: ReadonlySet<string>;
  readonly devices: ReadonlySet<string>;
  readonly routes: ReadonlySet<string>;
};

function pageFaults(
  page: Bank,
  path: string,
  controls: ReadonlyMap<string, string>,
  known: Known,
): ReferenceFault[] {
  return page.assignments.flatMap((assignment, a) => {
    const at = `${path}.assignments.${a}`;
    const name = controls.get(assignment.controlId);
    if (name === undefined)
      return [{ path: `${at}.controlId`, message: `${page.name}: the control is gone from the board.` }];
    const where = `${page.name}, ${name}:`;
    return [
      ...ACTION_LISTS.flatMap((list) =>
        assignment[list].flatMap((action, i) => actionFault(action, known, `${at}.${list}.${i}`, where)),
      ),
      ...assignment.sweeps.flatMap((sweep, i) => [
        ...valueFault(known.functions.get(sweep.functionId), sweep.from, `${at}.sweeps.${i}.from`, where),
        ...valueFault(known.functions.get(sweep.functionId), sweep.to, `${at}.sweeps.${i}.to`, where),
      ]),
      ...lampFault(assignment.lamp, known, `${at}.lamp`, where),
    ];
  });
}

const lampFault = (lamp: LampRule | null, known: Known, path: string, where: string): ReferenceFault[] =>
  lamp?.kind === 'function' && !known.functions.has(lamp.functionId) ? [gone(path, where)] : [];

function actionFault(action: Action, known: Known, path: string, where: string): ReferenceFault[] {
  switch (action.kind) {
    case 'set':
      return valueFault(known.functions.get(action.functionId), action.value, path, where);
    case 'toggle':
    case 'one-of': {
      const found = known.functions.get(action.functionId);
      if (!found) return [gone(path, where)];
      if (found.fn.shape.kind === 'switch') return [];
      return [
        { path, message: `${where} ${found.fn.name} is no switch, so it cannot be switched on and off.` },
      ];
    }
    case 'arm-only': {
      const found = known.functions.get(action.functionId);
      if (!found) return [gone(path, where)];
      if (found.fn.shape.kind === 'switch' && found.fn.arms !== null) return [];
      return [{ path, message: `${where} ${found.fn.name} arms no track.` }];
    }
    case 'momentary':
      return [action.down, action.up].flatMap((value) =>
        valueFault(known.functions.get(action.functionId), value, path, where),
      );
    case 'step':
      return action.values.flatMap((value) =>
        valueFault(known.functions.get(action.functionId), value, path, where),
      );
    case 'ramp':
      return [action.from ?? action.to, action.to].flatMap((value) =>
        valueFault(known.functions.get(action.functionId), value, path, where),
      );
    case 'route':
      return known.routes.has(action.routeId)
        ? []
        : [{ path, message: `${where} the route is gone from the rig.` }];
    case 'message':
    case 'arm-step':
      return known.devices.has(action.deviceId)
        ? []
        : [{ path, message: `${where} the device is gone from the rig.` }];
    case 'raw':
    case 'clock':
      return known.ports.has(action.portId)
        ? []
        : [{ path, message: `${where} the port is gone from the rig.` }];
    case 'bank':
      if (action.to.kind !== 'bank' || known.banks.has(action.to.bankId)) return [];
      return [{ path, message: `${where} the bank it goes to is gone.` }];
    case 'page': {
      const pages = known.pages.get(action.groupId);
      if (!pages) return [{ path, message: `${where} the group whose pages it turns is gone.` }];
      if (action.to.kind !== 'bank' || pages.has(action.to.bankId)) return [];
      return [{ path, message: `${where} the page it goes to is gone.` }];
    }
    case 'scene':
    case 'song':
    case 'tap':
    case 'panic':
      return [];
  }
}

function valueFault(found: Found | undefined, value: number, path: string, where: string): ReferenceFault[] {
  if (!found) return [gone(path, where)];
  if (takesValue(found.fn.shape, value)) return [];
  const expected = expectedText(found.device, found.fn);
  return [
    {
      path,
      message: `${where} ${found.device.name} ${found.fn.name} does not take ${value} (sent); it takes ${expected} as shown.`,
    },
  ];
}

const gone = (path: string, where: string): ReferenceFault => ({
  path,
  message: `${where} the function is gone from the rig's charts.`,
});
