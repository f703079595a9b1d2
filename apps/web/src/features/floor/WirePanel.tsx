import type { ActionDoc, AssignmentDoc } from '@idle-step/contract';
import { actionWires, type ActionWire, type World } from '@idle-step/core/engine';
import { GESTURES } from '@idle-step/core/floor';
import { shownText } from '@idle-step/core/gear';
import { useContext } from 'react';
import { createPortal } from 'react-dom';
import { useWorld } from '../../live/useLive';
import { byteWords } from '@idle-step/core/midi';
import { milliseconds } from '@idle-step/core/proof';
import { TapeMark } from '../../ui/TapeMark';
import { WireSlotContext } from '../../boards/wireSlot';

/** The exact bytes of the action in hand and how long the whole press takes, above the monitor. */
export function WirePanel({ assignment, action }: { assignment: AssignmentDoc; action: ActionDoc | null }) {
  const world = useWorld();
  const slot = useContext(WireSlotContext);
  if (!slot) return null;
  const wires = action ? actionWires(world, action) : [];
  return createPortal(
    <section className="wire" aria-label="On the wire">
      <div className="drawer-head">
        <h2>On the wire</h2>
        <span className="muted small">{gestureOf(assignment, action)}</span>
      </div>
      <div className="wire-body">
        {action && wires.length > 0 ? (
          wires.map((wire) => <WireBytes key={wire.portId} world={world} action={action} wire={wire} />)
        ) : (
          <p className="muted small">
            {action
              ? 'This action sends nothing of its own.'
              : assignment.sweeps.length > 0
                ? 'A pedal sends each step as it moves; see the monitor.'
                : 'Nothing is assigned here yet.'}
          </p>
        )}
        <PressTimes world={world} actions={assignment.press} />
      </div>
    </section>,
    slot,
  );
}

const GESTURE_WORDS = {
  press: 'Press',
  release: 'Release',
  hold: 'Hold',
  doublePress: 'Double press',
} as const;

/** The gesture that an action belongs to, in words. */
function gestureOf(assignment: AssignmentDoc, action: ActionDoc | null): string {
  const gesture = GESTURES.find((g) => action && assignment[g].includes(action));
  return GESTURE_WORDS[gesture ?? 'press'];
}

function WireBytes({ world, action, wire }: { world: World; action: ActionDoc; wire: ActionWire }) {
  const bytes = wire.messages.flat();
  const words = byteWords(bytes, world.show.rig.middleC);
  const found = wire.functionId ? world.functions.get(wire.functionId) : undefined;
  const value =
    action.kind === 'set'
      ? action.value
      : action.kind === 'momentary'
        ? action.down
        : action.kind === 'step'
          ? action.values[0]!
          : 1;
  return (
    <>
      <div className="wire-target small">
        {wire.device && <TapeMark mark={wire.device.mark} name={wire.device.name} />}
        <span>
          <b>{wire.device?.name}</b>{' '}
          {found ? `${found.fn.name} ${shownText(found.device, found.fn, value)}` : 'raw'}
        </span>
      </div>
      <div className={`wire-bytes ${bytes.length > 3 ? 'many' : ''}`} data-testid="wire-bytes">
        {bytes.map((byte, i) => (
          <div key={i}>
            <span className="num">{byte.toString(16).toUpperCase().padStart(2, '0')}</span>
            <small>{words[i]}</small>
          </div>
        ))}
      </div>
      <p className="bytes">
        {wire.link === 'din' ? (
          <>
            {bytes.length} bytes × 320 µs = <b>{milliseconds(wire.ms)}</b>
          </>
        ) : (
          `${bytes.length} bytes, at once over ${wire.link}`
        )}
      </p>
    </>
  );
}

/** How long each port is busy with a press; ports send side by side. */
function PressTimes({ world, actions }: { world: World; actions: readonly ActionDoc[] }) {
  const wires = actions.flatMap((a) => actionWires(world, a));
  if (wires.length < 2) return null;
  const ports = new Map<string, ActionWire[]>();
  for (const wire of wires) ports.set(wire.portId, [...(ports.get(wire.portId) ?? []), wire]);
  const total = (list: readonly ActionWire[]) => list.reduce((ms, w) => ms + w.ms, 0);
  const nameOf = (portId: string) =>
    world.show.rig.devices.flatMap((d) => d.ports).find((p) => p.id === portId)?.name ?? 'gone';
  return (
    <div className="lanes">
      {[...ports].map(([portId, list]) => (
        <div key={portId} className="lane">
          <b className="small">{nameOf(portId)}</b>
          <span className="lane-track">
            {list.map((w, i) => (w.device ? <TapeMark key={i} mark={w.device.mark} /> : null))}
          </span>
          <span className="num small">{milliseconds(total(list))}</span>
        </div>
      ))}
      <p className="small muted">
        {ports.size > 1 ? 'Ports send side by side: done' : 'Done'} after{' '}
        {milliseconds(Math.max(...[...ports.values()].map(total)))}
      </p>
    </div>
  );
}
