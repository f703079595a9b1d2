import { GESTURES, type Action, type Preset, type RigWithBoards } from '@idle-step/core/floor';
import { expectedText, takesValue, type ChartFunction, type Device, type Rig } from '@idle-step/core/gear';
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
export function presetFaults(rig: RigWithBoards, preset: Preset): ReferenceFault[] {
  const board = rig.boards.find((b) => b.id === preset.boardId);
  if (!board) return [{ path: 'boardId', message: 'The board of this preset is gone.' }];
  const functions = functionTable(rig);
  const controls = new Map(board.controls.map((c) => [c.id, c]));
  const banks = new Set(preset.banks.map((b) => b.id));
  const ports = new Set(rig.devices.flatMap((d) => d.ports.map((p) => p.id)));
  return preset.banks.flatMap((bank, b) =>
    bank.assignments.flatMap((assignment, a) => {
      const at = `banks.${b}.assignments.${a}`;
      const control = controls.get(assignment.controlId);
      if (!control)
        return [{ path: `${at}.controlId`, message: `${bank.name}: the control is gone from the board.` }];
      const where = `${bank.name}, ${control.name}:`;
      return [
        ...GESTURES.flatMap((gesture) =>
          assignment[gesture].flatMap((action, i) =>
            actionFault(action, { functions, banks, ports }, `${at}.${gesture}.${i}`, where),
          ),
        ),
        ...assignment.sweeps.flatMap((sweep, i) => [
          ...valueFault(functions.get(sweep.functionId), sweep.from, `${at}.sweeps.${i}.from`, where),
          ...valueFault(functions.get(sweep.functionId), sweep.to, `${at}.sweeps.${i}.to`, where),
        ]),
      ];
    }),
  );
}

function actionFault(
  action: Action,
  known: { functions: ReadonlyMap<string, Found>; banks: ReadonlySet<string>; ports: ReadonlySet<string> },
  path: string,
  where: string,
): ReferenceFault[] {
  switch (action.kind) {
    case 'set':
      return valueFault(known.functions.get(action.functionId), action.value, path, where);
    case 'toggle': {
      const found = known.functions.get(action.functionId);
      if (!found) return [gone(path, where)];
      if (found.fn.shape.kind === 'switch') return [];
      return [{ path, message: `${where} ${found.fn.name} is no switch, so it cannot be toggled.` }];
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
    case 'raw':
      return known.ports.has(action.portId)
        ? []
        : [{ path, message: `${where} the port is gone from the rig.` }];
    case 'bank':
      if (action.to.kind !== 'bank' || known.banks.has(action.to.bankId)) return [];
      return [{ path, message: `${where} the bank it goes to is gone.` }];
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
