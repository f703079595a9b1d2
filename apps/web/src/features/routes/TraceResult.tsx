import type { FullRig } from '@idle-step/core/routing';
import { rigPaths } from '@idle-step/core/gear';
import { type Hop, type Loss, type Trace, milliseconds } from '@idle-step/core/proof';
import { CircleAlert, CircleCheck } from 'lucide-react';
import { useMemo, useState } from 'react';
import { Button } from 'react-bootstrap';
import { useNavigate } from 'react-router-dom';
import { TapeMark } from '../../ui/TapeMark';
import { RigMap } from '../../gear/RigMap';
import { useMend } from './useMend';
import { there } from '@idle-step/core/sure';

const STAGES: Record<Hop['stage'], string> = {
  control: 'control',
  gesture: 'gesture',
  action: 'action',
  message: 'message',
  port: 'port',
  cable: 'cable',
  route: 'route',
  device: 'device',
  function: 'function',
  effect: 'effect',
};

/** A trace as a list of hops, and on the rig map. */
export function TraceResult({ rig, found }: { rig: FullRig; found: Trace }) {
  const navigate = useNavigate();
  const [way, setWay] = useState(0);
  const ways = found.ways;
  const shown = ways[Math.min(way, Math.max(0, ways.length - 1))];
  const losses = [...(found.loss ? [found.loss] : []), ...ways.flatMap((w) => w.loss ?? [])];
  const hops = [...found.stem, ...(shown?.hops ?? [])];
  const onWay = new Set(hops.flatMap((h) => h.deviceId ?? ownerOf(rig, h.portId) ?? []));
  const cableIds = useCables(rig, found, hops);
  return (
    <>
      <p className={`verdict ${losses.length > 0 ? 'lost' : 'sound'}`} role="status">
        {losses.length > 0 ? (
          <CircleAlert size={18} aria-hidden="true" />
        ) : (
          <CircleCheck size={18} aria-hidden="true" />
        )}
        {losses.length === 0
          ? ways.length === 0
            ? 'It arrives.'
            : ways.length === 1
              ? 'It arrives.'
              : `All ${ways.length} of its messages arrive.`
          : ways.length > 1
            ? `${losses.length} of ${ways.length} are lost.`
            : 'It is lost.'}
      </p>
      {ways.length > 1 && (
        <nav className="tabs" aria-label="Ways of this press">
          {ways.map((w, i) => (
            <button
              key={i}
              type="button"
              className={`way ${i === way ? 'on' : ''}`}
              aria-pressed={i === way}
              onClick={() => setWay(i)}
            >
              {w.loss && <CircleAlert size={14} aria-label="lost" />}
              {w.hops.find((h) => h.stage === 'function')?.title ?? w.hops[0]?.title ?? `way ${i + 1}`}
            </button>
          ))}
        </nav>
      )}
      <ol className="hops" aria-label="Hops">
        {hops.map((h, i) => (
          <HopLine key={i} rig={rig} hop={h} />
        ))}
        {found.loss && <LossLine rig={rig} loss={found.loss} />}
        {shown?.loss && <LossLine rig={rig} loss={shown.loss} />}
      </ol>
      <div className="trace-map">
        <RigMap
          rig={rig}
          picked={{ kind: 'device', id: '' }}
          onPick={(pick) => pick.kind === 'device' && void navigate(`/rig/${pick.id}`)}
          paths={[{ stops: [], cableIds }]}
          drawing={null}
          wanted=""
          onWay={onWay}
        />
      </div>
    </>
  );
}

function HopLine({ rig, hop }: { rig: FullRig; hop: Hop }) {
  const device = rig.devices.find((d) => d.id === hop.deviceId);
  return (
    <li className={`hop ${hop.stage}`} data-stage={hop.stage}>
      <span className="hop-stage">{STAGES[hop.stage]}</span>
      <span className="hop-words">
        {device && <TapeMark mark={device.mark} size={14} />}
        {hop.title}
      </span>
      <span className={`hop-detail small ${hop.stage === 'message' ? 'num' : 'muted'}`}>{hop.detail}</span>
      <span className="num small muted">{hop.atMs > 0 ? `+${milliseconds(hop.atMs)}` : ''}</span>
    </li>
  );
}

function LossLine({ rig, loss }: { rig: FullRig; loss: Loss }) {
  const mend = useMend(rig);
  return (
    <li className="hop loss" data-reason={loss.reason}>
      <span className="hop-stage">lost here</span>
      <span className="hop-words">{loss.sentence}</span>
      {loss.mend && (
        <Button variant="quiet" onClick={() => mend(there(loss.mend))}>
          {loss.mend.text}
        </Button>
      )}
    </li>
  );
}

const ownerOf = (rig: FullRig, portId: string | null): string | null =>
  portId === null ? null : (rig.devices.find((d) => d.ports.some((p) => p.id === portId))?.id ?? null);

/** The cables of the way: those of its hops, and those from the control to the computer. */
function useCables(rig: FullRig, found: Trace, hops: readonly Hop[]): readonly string[] {
  const paths = useMemo(() => rigPaths(rig), [rig]);
  const from = found.stem.find((h) => h.stage === 'control')?.deviceId;
  const first = paths.find((p) => p.stops[0]?.kind === 'device' && p.stops[0].device.id === from);
  const inTo = first ? first.cableIds.slice(0, cablesBeforeComputer(first.stops)) : [];
  return [...inTo, ...hops.flatMap((h) => h.cableIds)];
}

/** Devices before the computer are joined by one cable less than there are. */
const cablesBeforeComputer = (stops: readonly { readonly kind: string }[]): number =>
  Math.max(0, stops.findIndex((s) => s.kind === 'computer') - 1);
