import type { DeviceDoc, RigDoc } from '@idle-step/contract';
import type { DeviceRole } from '@idle-step/core/gear';
import { Corners } from '../../ui/Corners';
import { TapeMark } from '../../ui/TapeMark';
import { useMeasure } from '../../ui/useMeasure';

const COLUMNS: readonly { role: DeviceRole; title: string; left: number }[] = [
  { role: 'controller', title: 'What you touch', left: 0 },
  { role: 'carrier', title: 'What carries', left: 0.36 },
  { role: 'receiver', title: 'What answers', left: 0.72 },
];
const CARD_SHARE = 0.25;
const CARD_PX = 54;
const ROW_PX = 64;

/** Devices in the order in which a press passes through them, with the cables between. */
export function RigMap({
  rig,
  selectedId,
  onSelect,
}: {
  rig: RigDoc;
  selectedId: string;
  onSelect(id: string): void;
}) {
  const [box, widthPx] = useMeasure();
  const placed = placeDevices(rig);
  const heightPx =
    ROW_PX * Math.max(1, ...COLUMNS.map((c) => rig.devices.filter((d) => d.role === c.role).length));
  return (
    <section aria-label="Rig map">
      <div className="map-columns">
        {COLUMNS.map((c) => (
          <h2 key={c.role} style={{ left: `${c.left * 100}%` }}>
            {c.title}
          </h2>
        ))}
      </div>
      <div className="rig-map" ref={box} style={{ height: heightPx }}>
        <Cables rig={rig} placed={placed} widthPx={widthPx} selectedId={selectedId} />
        {rig.devices.map((device) => {
          const at = placed.get(device.id)!;
          return (
            <button
              key={device.id}
              type="button"
              className={`device-card ${device.id === selectedId ? 'framed' : ''} ${device.away ? 'away' : ''}`}
              style={{
                left: `${at.left * 100}%`,
                top: at.row * ROW_PX,
                width: `${CARD_SHARE * 100}%`,
                height: CARD_PX,
              }}
              aria-pressed={device.id === selectedId}
              onClick={() => onSelect(device.id)}
            >
              {device.id === selectedId && <Corners />}
              <TapeMark mark={device.mark} size={22} />
              <span className="device-words">
                <span className="device-name">
                  {device.name}
                  {device.role !== 'carrier' && <span className="num muted"> ch {device.channel + 1}</span>}
                </span>
                <span className="small muted">
                  {device.description}
                  {device.away ? ', away' : ''}
                </span>
              </span>
            </button>
          );
        })}
      </div>
    </section>
  );
}

type Placed = ReadonlyMap<string, { left: number; row: number }>;

function placeDevices(rig: RigDoc): Placed {
  const rows = new Map<DeviceRole, number>();
  return new Map(
    rig.devices.map((d) => {
      const row = rows.get(d.role) ?? 0;
      rows.set(d.role, row + 1);
      return [d.id, { left: COLUMNS.find((c) => c.role === d.role)!.left, row }];
    }),
  );
}

function Cables({
  rig,
  placed,
  widthPx,
  selectedId,
}: {
  rig: RigDoc;
  placed: Placed;
  widthPx: number;
  selectedId: string;
}) {
  const ownerOf = new Map(
    rig.devices.flatMap((d) => d.ports.map((p) => [p.id, { device: d, port: p }] as const)),
  );
  return (
    <svg className="map-cables" width={widthPx} height="100%" aria-hidden="true">
      {rig.cables.map((cable) => {
        const from = ownerOf.get(cable.fromPortId);
        const to = ownerOf.get(cable.toPortId);
        if (!from || !to) return null;
        const target = [from.device, to.device].find((d) => d.role === 'receiver') ?? from.device;
        const hot = from.device.id === selectedId || to.device.id === selectedId;
        return (
          <path
            key={cable.id}
            className={`t-${target.mark.colour} ${from.port.link} ${hot ? 'hot' : ''} ${from.device.away || to.device.away ? 'away' : ''}`}
            d={cableCurve(edge(from.device, placed, widthPx, true), edge(to.device, placed, widthPx, false))}
          />
        );
      })}
    </svg>
  );
}

/** Where a cable leaves or enters a card. */
function edge(device: DeviceDoc, placed: Placed, widthPx: number, leaves: boolean): { x: number; y: number } {
  const at = placed.get(device.id)!;
  return { x: (at.left + (leaves ? CARD_SHARE : 0)) * widthPx, y: at.row * ROW_PX + CARD_PX / 2 };
}

function cableCurve(a: { x: number; y: number }, b: { x: number; y: number }): string {
  const bend = Math.max(40, Math.abs(b.x - a.x) / 2);
  return `M${a.x} ${a.y}C${a.x + bend} ${a.y} ${b.x - bend} ${b.y} ${b.x} ${b.y}`;
}
