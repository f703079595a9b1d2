import type { FullRig } from '@idle-step/core/routing';
import {
  type Preset,
  BOARD_SHAPES,
  PLAIN_ASSIGNMENT,
  PLAIN_BANK,
  PLAIN_PRESET,
  shapedBoard,
} from '@idle-step/core/floor';
import type { Kept } from '@idle-step/contract';
import { PLAIN_DEVICE } from '@idle-step/core/gear';
import { demoRig } from '@idle-step/demo';
import type { RunningApp } from './app';

const newId = () => crypto.randomUUID();
const GESTURES = ['press', 'release', 'hold'] as const;

/** A board of sixteen pads on the screen, with a preset of ten banks that tells each of them three gestures. */
export async function addBigPreset(app: RunningApp): Promise<{ boardId: string; presetId: string }> {
  const { doc, version } = await app.get<Kept<FullRig>>(`/rigs/${demoRig.id}`);
  const [deviceId, boardId, presetId] = [newId(), newId(), newId()];
  const shape = BOARD_SHAPES.find((s) => s.kind === 'sixteen-pads')!;
  const board = {
    ...shapedBoard(shape, { id: boardId, deviceId, xMm: 2000, yMm: 0 }, newId),
    isOnScreen: true,
  } as unknown as FullRig['boards'][number];
  const device = {
    ...PLAIN_DEVICE,
    id: deviceId,
    name: 'Music stand',
    role: 'controller',
    mark: { shape: 'pair', colour: 'sun' },
    channel: 13,
    ports: [],
  } as unknown as FullRig['devices'][number];
  const receiver = doc.devices.find((d) => d.role === 'receiver')!;
  const preset = {
    ...PLAIN_PRESET,
    id: presetId,
    rigId: doc.id,
    boardId,
    name: 'Everything',
    banks: Array.from({ length: 10 }, (_, b) => ({
      ...PLAIN_BANK,
      id: newId(),
      name: `Bank ${b + 1}`,
      assignments: board.controls.map((c, i) => ({
        ...PLAIN_ASSIGNMENT,
        controlId: c.id,
        ...Object.fromEntries(
          GESTURES.map((g, k) => [
            g,
            [
              {
                id: newId(),
                kind: 'message',
                deviceId: receiver.id,
                channel: null,
                send: 'controller',
                number: 20 + i,
                value: (b * 10 + k) % 128,
              },
            ],
          ]),
        ),
      })),
    })),
  } as unknown as Preset;
  await send(
    app,
    'PUT',
    `/rigs/${doc.id}`,
    { ...doc, devices: [...doc.devices, device], boards: [...doc.boards, board] },
    version,
  );
  await send(app, 'POST', '/presets', preset);
  const withPreset = await app.get<Kept<FullRig>>(`/rigs/${doc.id}`);
  const boards = withPreset.doc.boards.map((b) => (b.id === boardId ? { ...b, presetId } : b));
  await send(app, 'PUT', `/rigs/${doc.id}`, { ...withPreset.doc, boards }, withPreset.version);
  return { boardId, presetId };
}

async function send(
  app: RunningApp,
  method: string,
  path: string,
  body: unknown,
  version?: number,
): Promise<void> {
  const response = await fetch(`${app.base}/api${path}`, {
    method,
    headers: {
      'content-type': 'application/json',
      ...(version === undefined ? {} : { 'If-Match': `"${version}"` }),
    },
    body: JSON.stringify(body),
  });
  if (!response.ok) throw new Error(`${method} ${path}: ${response.status} ${await response.text()}`);
}
