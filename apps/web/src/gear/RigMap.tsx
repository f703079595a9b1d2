import type { FullRig } from '@idle-step/core/routing';
import { portWords, computerPorts, type RigPath } from '@idle-step/core/gear';
import type { LinkKind } from '@idle-step/core/midi';
import { useCallback, useEffect, useMemo, useRef, type ReactNode } from 'react';
import { Corners } from '../ui/Corners';
import { TapeMark } from '../ui/TapeMark';
import { useMeasure } from '../ui/hooks/useMeasure';
import { useLoadWords } from './useLoads';
import {
  cableLine,
  COLUMNS,
  curve,
  isInput,
  layOut,
  type MapLayout,
  type PlacedCard,
  type Point,
} from './mapLayout';
import { SHORT_LINK } from '../words/linkWords';
import type { CableDrawing } from './useCableInHand';

/** What is picked on the map: a device or a cable. */
export type MapPick = { readonly kind: 'device' | 'cable'; readonly id: string };

type Props = {
  rig: FullRig;
  picked: MapPick;
  onPick(pick: MapPick): void;
  /** The ways through what is picked; their cables stand out. */
  paths: readonly RigPath[];
  /** How cables are drawn; `null` where the map is only looked at. */
  drawing: CableDrawing | null;
  /** Devices that stand out beside what is picked. */
  onWay?: ReadonlySet<string>;
  /** Devices whose name has this in it stand out; empty for all. */
  wanted: string;
};

/** Devices in the order in which a press passes through them, with the cables between. */
export function RigMap({ rig, picked, onPick, paths, drawing, wanted, onWay }: Props) {
  const [measure, widthPx] = useMeasure();
  const box = useRef<HTMLDivElement | null>(null);
  const hold = useCallback(
    (element: HTMLDivElement | null) => {
      box.current = element;
      measure(element);
    },
    [measure],
  );
  const layout = useMemo(() => layOut(rig, widthPx), [rig, widthPx]);
  const isFound = (card: PlacedCard) => card.device.name.toLowerCase().includes(wanted.toLowerCase());
  const firstFound = wanted === '' ? undefined : layout.cards.find(isFound);
  return (
    <section aria-label="Rig map">
      <div className="map-columns">
        {COLUMNS.map((c) => (
          <h2 key={c.role} style={{ left: `${c.left * 100}%` }}>
            {c.title}
          </h2>
        ))}
      </div>
      <div className={`map-room ${layout.isDense ? 'dense' : ''}`}>
        <div
          className={`rig-map ${layout.isDense ? 'dense' : ''}`}
          ref={hold}
          style={{ height: layout.heightPx }}
        >
          <Cables rig={rig} layout={layout} picked={picked} onPick={onPick} paths={paths} drawing={drawing} />
          {layout.cards.map((card) => (
            <Card
              key={card.device.id}
              card={card}
              isPicked={
                (picked.kind === 'device' && picked.id === card.device.id) ||
                (onWay?.has(card.device.id) ?? false)
              }
              isDim={wanted !== '' && !isFound(card)}
              isFirstFound={card === firstFound}
              isDense={layout.isDense}
              onPick={() => onPick({ kind: 'device', id: card.device.id })}
            />
          ))}
          {drawing && <Sockets layout={layout} drawing={drawing} boxOf={() => box.current} />}
        </div>
      </div>
    </section>
  );
}

function Card({
  card,
  isPicked,
  isDim,
  isFirstFound,
  isDense,
  onPick,
}: {
  card: PlacedCard;
  isPicked: boolean;
  isDim: boolean;
  /** The first that is looked for by name. */
  isFirstFound: boolean;
  isDense: boolean;
  onPick(): void;
}) {
  const { device } = card;
  const button = useRef<HTMLButtonElement>(null);
  const isWanted = isPicked || isFirstFound;
  useEffect(() => {
    if (isDense && isWanted) button.current?.scrollIntoView({ block: 'nearest' });
  }, [isDense, isWanted]);
  const single = card.hasRows ? [] : device.ports;
  return (
    <button
      ref={button}
      type="button"
      className={`device-card ${isPicked ? 'framed' : ''} ${device.away ? 'away' : ''} ${isDim ? 'dim' : ''}`}
      style={{ left: card.leftPx, top: card.topPx, width: card.widthPx, height: card.heightPx }}
      aria-pressed={isPicked}
      onClick={onPick}
    >
      {isPicked && <Corners />}
      <span className="card-head" style={{ height: card.headPx }}>
        <TapeMark mark={device.mark} size={isDense ? 16 : 22} />
        <span className="device-words">
          <span className="device-name">
            {device.name}
            {device.role !== 'carrier' && <span className="num muted"> ch {device.channel + 1}</span>}
          </span>
          {!isDense && (
            <span className="small muted">
              {device.description}
              {device.away ? ', away' : ''}
            </span>
          )}
        </span>
        <span className="small muted port-word">{single.map((p) => p.name.toLowerCase()).join(', ')}</span>
      </span>
      {card.hasRows && (
        <span className="device-ports small">
          <PortNames names={device.ports.filter(isInput).map((p) => p.name)} />
          <PortNames names={device.ports.filter((p) => !isInput(p)).map((p) => p.name)} />
        </span>
      )}
    </button>
  );
}

const PortNames = ({ names }: { names: readonly string[] }) => (
  <span>
    {names.map((name, i) => (
      <span key={i}>{name}</span>
    ))}
  </span>
);

/** The places where a cable is picked up and plugged in. */
function Sockets({
  layout,
  drawing,
  boxOf,
}: {
  layout: MapLayout;
  drawing: CableDrawing;
  boxOf(): HTMLElement | null;
}) {
  const free = drawing.inHand;
  return [...layout.ports.values()].map(({ port, card, at }) => {
    const name = portWords(card.device, port);
    const label = !free
      ? `Draw a cable at ${name}`
      : free.portId === port.id
        ? `Let go of the cable at ${name}`
        : `Plug the cable in at ${name}`;
    return (
      <button
        key={port.id}
        type="button"
        className={`socket ${isInput(port) ? 'in' : 'out'} ${free?.portId === port.id ? 'held' : ''} ${port.plays ? '' : 'off'} ${port.atComputer ? 'here' : ''}`}
        style={{ left: at.x, top: at.y }}
        data-port={port.id}
        aria-label={label}
        title={`${name}, ${SHORT_LINK[port.link]}${port.atComputer ? ', at this computer' : ''}`}
        onClick={() => drawing.press(port.id)}
        onPointerDown={(e) => drawing.startDrag(e, port.id, boxOf())}
      />
    );
  });
}

function Cables({
  rig,
  layout,
  picked,
  onPick,
  paths,
  drawing,
}: Pick<Props, 'rig' | 'picked' | 'onPick' | 'paths' | 'drawing'> & { layout: MapLayout }) {
  const carries = useMemo(() => computerPorts(rig), [rig]);
  const hot = new Set(paths.flatMap((p) => p.cableIds));
  const free = drawing?.inHand?.free ? drawing.inHand : null;
  const held = free && layout.ports.get(free.portId);
  const lines = rig.cables.flatMap((cable) => {
    const from = layout.ports.get(cable.fromPortId);
    const to = layout.ports.get(cable.toPortId);
    if (!from || !to) return [];
    const target = [to.card.device, from.card.device].find((d) => d.role === 'receiver') ?? from.card.device;
    const isPicked = picked.kind === 'cable' && picked.id === cable.id;
    return [
      {
        cable,
        from,
        to,
        target,
        isPicked,
        isHot: isPicked || hot.has(cable.id),
        ...cableLine(from, to),
      },
    ];
  });
  return (
    <>
      <svg className="map-cables" width="100%" height="100%" aria-hidden="true">
        {lines.map(({ cable, from, to, target, isHot, d }) => (
          <path
            key={cable.id}
            className={`t-${target.mark.colour} ${from.port.link} ${isHot ? 'hot' : ''} ${from.card.device.away || to.card.device.away ? 'away' : ''}`}
            d={d}
          />
        ))}
        {held && free?.free && (
          <path
            className="in-hand"
            d={isInput(held.port) ? curve(free.free, held.at) : curve(held.at, free.free)}
          />
        )}
      </svg>
      {lines.map(({ cable, from, to, target, isPicked, isHot, label }) => (
        <CableLabel
          key={cable.id}
          at={label}
          link={from.port.link}
          portId={carries.get(cable.id)}
          isHidden={layout.isDense && !isHot}
        >
          <button
            type="button"
            className={`cable-label ${isPicked ? 'framed' : ''} t-${target.mark.colour}`}
            aria-pressed={isPicked}
            aria-label={`${SHORT_LINK[from.port.link]} cable from ${portWords(from.card.device, from.port)} to ${portWords(to.card.device, to.port)}`}
            onClick={() => onPick({ kind: 'cable', id: cable.id })}
          >
            {isPicked && <Corners />}
            <TapeMark mark={target.mark} size={11} />
            <span className="num">{SHORT_LINK[from.port.link]}</span>
          </button>
        </CableLabel>
      ))}
    </>
  );
}

/** The label of a cable with what it carries; on a dense map only where it carries something or is in hand. */
function CableLabel({
  at,
  link,
  portId,
  isHidden,
  children,
}: {
  at: Point;
  link: LinkKind;
  portId: string | undefined;
  isHidden: boolean;
  children: ReactNode;
}) {
  const words = useLoadWords(portId, link);
  if (isHidden && words === '') return null;
  return (
    <span className="cable-at" style={{ left: at.x, top: at.y }}>
      {children}
      {words !== '' && <span className="load">{words}</span>}
    </span>
  );
}
