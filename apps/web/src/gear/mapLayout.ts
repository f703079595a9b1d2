import type { Device, DeviceRole } from '@idle-step/core/gear';
import type { FullRig } from '@idle-step/core/routing';
import type { PortDoc } from '../edits/rigEdits';

/** Where everything of the rig map stands, in px. Pure, so that cables and cards agree. */

export const COLUMNS: readonly { role: DeviceRole; title: string; left: number }[] = [
  { role: 'controller', title: 'What you touch', left: 0 },
  { role: 'carrier', title: 'What carries', left: 0.355 },
  { role: 'receiver', title: 'What answers', left: 0.705 },
];
export const CARD_SHARE = 0.245;
/** From so many cards in one column on they are drawn low, without what is written small. */
const DENSE_FROM = 8;
const SOCKET_PX = 26;

export type Point = { readonly x: number; readonly y: number };
export type PlacedCard = {
  readonly device: Device;
  readonly leftPx: number;
  readonly topPx: number;
  readonly widthPx: number;
  readonly heightPx: number;
  readonly headPx: number;
  /** Ports stand in rows of their own below the name; else at its height. */
  readonly hasRows: boolean;
};
export type PlacedPort = { readonly port: PortDoc; readonly card: PlacedCard; readonly at: Point };
export type MapLayout = {
  readonly isDense: boolean;
  readonly cards: readonly PlacedCard[];
  readonly ports: ReadonlyMap<string, PlacedPort>;
  readonly heightPx: number;
};

export const isInput = (port: PortDoc): boolean => port.direction === 'in';

export function layOut(rig: FullRig, widthPx: number): MapLayout {
  const countOf = (role: DeviceRole) => rig.devices.filter((d) => d.role === role).length;
  const isDense = COLUMNS.some((c) => countOf(c.role) >= DENSE_FROM);
  const headPx = isDense ? 32 : 46;
  const gapPx = isDense ? 6 : 10;
  const cards: PlacedCard[] = [];
  const ports = new Map<string, PlacedPort>();
  let heightPx = 0;
  for (const column of COLUMNS) {
    let topPx = 0;
    for (const device of rig.devices.filter((d) => d.role === column.role)) {
      const inputs = device.ports.filter(isInput);
      const outputs = device.ports.filter((p) => !isInput(p));
      const rows = Math.max(inputs.length, outputs.length);
      const hasRows = rows > 1;
      const card: PlacedCard = {
        device,
        leftPx: column.left * widthPx,
        topPx,
        widthPx: CARD_SHARE * widthPx,
        heightPx: headPx + (hasRows ? rows * SOCKET_PX + 4 : 0),
        headPx,
        hasRows,
      };
      cards.push(card);
      const y = (i: number) => topPx + (hasRows ? headPx + i * SOCKET_PX + SOCKET_PX / 2 : headPx / 2);
      inputs.forEach((port, i) => ports.set(port.id, { port, card, at: { x: card.leftPx, y: y(i) } }));
      outputs.forEach((port, i) =>
        ports.set(port.id, { port, card, at: { x: card.leftPx + card.widthPx, y: y(i) } }),
      );
      topPx += card.heightPx + gapPx;
    }
    heightPx = Math.max(heightPx, topPx);
  }
  return { isDense, cards, ports, heightPx: Math.max(heightPx, headPx) };
}

/** The line of a cable, and where its label stands. Inside a column it goes round the right side of the cards. */
export function cableLine(from: PlacedPort, to: PlacedPort): { d: string; label: Point } {
  const a = from.at;
  if (from.card.leftPx === to.card.leftPx) {
    const b = { x: to.card.leftPx + to.card.widthPx, y: to.at.y };
    const bulge = a.x + 44;
    return {
      d: `M${a.x} ${a.y}C${bulge} ${a.y} ${bulge} ${b.y} ${b.x} ${b.y}`,
      label: { x: a.x + 30, y: (a.y + b.y) / 2 },
    };
  }
  return { d: curve(a, to.at), label: { x: (a.x + to.at.x) / 2, y: (a.y + to.at.y) / 2 } };
}

export function curve(a: Point, b: Point): string {
  const bend = Math.max(40, Math.abs(b.x - a.x) / 2);
  return `M${a.x} ${a.y}C${a.x + bend} ${a.y} ${b.x - bend} ${b.y} ${b.x} ${b.y}`;
}
