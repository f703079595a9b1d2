import { type Assignment, type Action, GESTURES } from '@idle-step/core/floor';
import { actionWires, pressLanes, type ActionWire, type World } from '@idle-step/core/engine';
import { shownText } from '@idle-step/core/gear';
import { createPortal } from 'react-dom';
import { useLiveOf, useWorld } from '../../../live/use/useLive';
import { byteWords } from '@idle-step/core/midi';
import { milliseconds } from '@idle-step/core/proof';
import { TapeMark } from '../../../ui/TapeMark';
import { useWireSlot } from '../../../boards/wireSlot';
import { isRecord } from '@idle-step/core/sure';

/** The exact bytes of the action in hand and how long the whole press takes, above the monitor. */
export function WirePanel({ assignment, action }: { assignment: Assignment; action: Action | null }) {
  const world = useWorld();
  const slot = useWireSlot();
  const wires = useLiveOf((live) => (action ? actionWires(live.world, action, live.state) : []), isSameText);
  if (!slot) return null;
  return createPortal(
    <section className="wire" aria-label="On the wire">
      <div className="drawer-head">
        <h2>On the wire</h2>
        <span className="muted small">{gestureOf(assignment, action)}</span>
      </div>
      <div className="wire-body">
        {action && wires.length > 0 ? (
          wires.map((wire) => <WireBytes key={wire.portId} world={world} wire={wire} />)
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
function gestureOf(assignment: Assignment, action: Action | null): string {
  const gesture = GESTURES.find((g) => action && assignment[g].includes(action));
  return GESTURE_WORDS[gesture ?? 'press'];
}

const UNKNOWN_WORDS = {
  asks: 'whether it is on is not known: it is asked first',
  off: 'whether it is on is not known: off first',
} as const;

function WireBytes({ world, wire }: { world: World; wire: ActionWire }) {
  const bytes = wire.messages.flat();
  const words = byteWords(bytes, world.show.rig.middleC);
  const found = wire.functionId ? world.functions.get(wire.functionId) : undefined;
  const value = found && wire.value !== null ? shownText(found.device, found.fn, wire.value) : '';
  return (
    <>
      <div className="wire-target small">
        {wire.device && <TapeMark mark={wire.device.mark} name={wire.device.name} />}
        <span>
          <b>{wire.device?.name}</b> {found ? `${found.fn.name} ${value}` : 'raw'}
        </span>
      </div>
      {wire.unknown && <p className="small muted">{UNKNOWN_WORDS[wire.unknown]}</p>}
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

/** How long each port is busy with the next press; ports send side by side. */
function PressTimes({ world, actions }: { world: World; actions: readonly Action[] }) {
  const lanes = useLiveOf((live) => pressLanes(live.world, actions, live.state), isSameText);
  if (lanes.reduce((n, { wires }) => n + wires.length, 0) < 2) return null;
  const nameOf = (portId: string) =>
    world.show.rig.devices.flatMap((d) => d.ports).find((p) => p.id === portId)?.name ?? 'gone';
  return (
    <div className="lanes">
      {lanes.map(({ portId, wires, doneMs }) => (
        <div key={portId} className="lane">
          <b className="small">{nameOf(portId)}</b>
          <span className="lane-track">
            {wires.map((w, i) => (w.device ? <TapeMark key={i} mark={w.device.mark} /> : null))}
          </span>
          <span className="num small">{milliseconds(doneMs)}</span>
        </div>
      ))}
      <p className="small muted">
        {lanes.length > 1 ? 'Ports send side by side: done' : 'Done'} after{' '}
        {milliseconds(Math.max(...lanes.map((l) => l.doneMs)))}
      </p>
    </div>
  );
}

/** Whether two plain results say the same, so that nothing is drawn anew for them. */
const isSameText = (a: unknown, b: unknown): boolean => textOf(a) === textOf(b);
const textOf = (wires: unknown): string =>
  JSON.stringify(wires, (key, value: unknown) => (key === 'device' && isRecord(value) ? value['id'] : value));
