import type { FullRig } from '@idle-step/core/routing';
import type { Device } from '@idle-step/core/gear';
import type { Board } from '@idle-step/core/floor';
import { BoardSchema, DeviceSchema, RoutingSchema } from '@idle-step/contract';
import { In, type EntityManager } from 'typeorm';
import { asKept } from '../keeping/asKept';
import { groupRows, syncRows } from '../keeping/sync-rows';
import {
  BoardRow,
  CableRow,
  ChartFunctionRow,
  ControlRow,
  DeviceRow,
  PortRow,
  RouteLineRow,
  RouteRow,
  type RigRow,
} from './rig.entity';

/** A rig as rows, and back. Each pair of functions mirrors the other. */

export async function readRigs(manager: EntityManager, heads: readonly RigRow[]): Promise<FullRig[]> {
  const rigIds = In(heads.map((h) => h.id));
  const devices = await manager.find(DeviceRow, { where: { rigId: rigIds } });
  const boards = await manager.find(BoardRow, { where: { rigId: rigIds } });
  const deviceIds = In(devices.map((d) => d.id));
  const ports = groupRows(await manager.find(PortRow, { where: { deviceId: deviceIds } }), 'deviceId');
  const functions = groupRows(
    await manager.find(ChartFunctionRow, { where: { deviceId: deviceIds } }),
    'deviceId',
  );
  const controls = groupRows(
    await manager.find(ControlRow, { where: { boardId: In(boards.map((b) => b.id)) } }),
    'boardId',
  );
  const cables = groupRows(await manager.find(CableRow, { where: { rigId: rigIds } }), 'rigId');
  const routes = groupRows(await manager.find(RouteRow, { where: { rigId: rigIds } }), 'rigId');
  const lines = groupRows(await manager.find(RouteLineRow, { where: { rigId: rigIds } }), 'rigId');
  const devicesOf = groupRows(devices, 'rigId');
  const boardsOf = groupRows(boards, 'rigId');
  return heads.map((head) => ({
    id: head.id,
    name: head.name,
    middleC: head.middleC,
    stepGuardMs: head.stepGuardMs,
    devices: (devicesOf.get(head.id) ?? []).map((d) =>
      readDevice(d, ports.get(d.id) ?? [], functions.get(d.id) ?? []),
    ),
    cables: (cables.get(head.id) ?? []).map(({ id, fromPortId, toPortId }) => ({ id, fromPortId, toPortId })),
    boards: (boardsOf.get(head.id) ?? []).map((b) => readBoard(b, controls.get(b.id) ?? [])),
    routing: readRouting(head, lines.get(head.id) ?? [], routes.get(head.id) ?? []),
  }));
}

export async function writeRigRows(manager: EntityManager, rig: FullRig): Promise<void> {
  const deviceIds = rig.devices.map((d) => d.id);
  const boardIds = rig.boards.map((b) => b.id);
  await syncRows(
    manager,
    DeviceRow,
    { column: 'rigId', ids: [rig.id] },
    ['id'],
    rig.devices.map((d, i) => deviceRow(rig.id, d, i)),
  );
  await syncRows(
    manager,
    PortRow,
    { column: 'deviceId', ids: deviceIds },
    ['id'],
    rig.devices.flatMap((d) => d.ports.map((port, position) => ({ ...port, deviceId: d.id, position }))),
  );
  await syncRows(
    manager,
    ChartFunctionRow,
    { column: 'deviceId', ids: deviceIds },
    ['id'],
    rig.devices.flatMap((d) => d.chart.map((fn, position) => ({ ...fn, deviceId: d.id, position }))),
  );
  await syncRows(
    manager,
    CableRow,
    { column: 'rigId', ids: [rig.id] },
    ['id'],
    rig.cables.map((cable, position) => ({ ...cable, rigId: rig.id, position })),
  );
  await syncRows(
    manager,
    BoardRow,
    { column: 'rigId', ids: [rig.id] },
    ['id'],
    rig.boards.map(({ controls: _controls, ...board }, position) => ({ ...board, rigId: rig.id, position })),
  );
  await syncRows(
    manager,
    ControlRow,
    { column: 'boardId', ids: boardIds },
    ['id'],
    rig.boards.flatMap((b) =>
      b.controls.map(({ sends, ...control }, position) => ({
        ...control,
        boardId: b.id,
        position,
        sendsKind: sends.kind,
        sendsNumber: sends.number,
      })),
    ),
  );
  const ofRig = { column: 'rigId', ids: [rig.id] } as const;
  const { lines, routes } = rig.routing;
  await syncRows(
    manager,
    RouteLineRow,
    ofRig,
    ['id'],
    lines.map((line, position) => ({ ...line, rigId: rig.id, position })),
  );
  await syncRows(
    manager,
    RouteRow,
    ofRig,
    ['id'],
    routes.map((route, position) => ({ ...route, rigId: rig.id, position })),
  );
}

function readRouting(
  { othersTo }: RigRow,
  lines: readonly RouteLineRow[],
  routes: readonly RouteRow[],
): FullRig['routing'] {
  const stored = {
    lines: lines.map(({ id, name }) => ({ id, name })),
    routes: routes.map(({ rigId: _r, position: _p, ...route }) => route),
    othersTo,
  };
  return asKept(RoutingSchema, stored);
}

function readDevice(
  row: DeviceRow,
  ports: readonly PortRow[],
  functions: readonly ChartFunctionRow[],
): Device {
  const { rigId: _r, position: _p, markShape, markColour, ...columns } = row;
  const stored = {
    ...columns,
    mark: { shape: markShape, colour: markColour },
    ports: ports.map(({ deviceId: _d, position: _q, ...port }) => port),
    chart: functions.map(({ deviceId: _d, position: _q, ...fn }) => fn),
  };
  return asKept(DeviceSchema, stored);
}

function deviceRow(rigId: string, device: Device, position: number): DeviceRow {
  const { mark, ports: _ports, chart: _chart, ...rest } = device;
  return { ...rest, rigId, position, markShape: mark.shape, markColour: mark.colour };
}

function readBoard(row: BoardRow, controls: readonly ControlRow[]): Board {
  const { rigId: _r, position: _p, ...columns } = row;
  const stored = {
    ...columns,
    controls: controls.map(({ boardId: _b, position: _q, sendsKind, sendsNumber, ...control }) => ({
      ...control,
      sends: { kind: sendsKind, number: sendsNumber },
    })),
  };
  return asKept(BoardSchema, stored);
}
