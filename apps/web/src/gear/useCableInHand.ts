import type { FullRig } from '@idle-step/core/routing';
import type { CableFinding } from '@idle-step/core/gear';
import { useEffect, useState, type PointerEvent } from 'react';
import { useEdit } from '../drafts/useDocs';
import { plugCable } from '../edits/rigEdits';
import { isInput, type Point } from './mapLayout';

/** A cable being drawn: from which port, and where its free end is when it follows the pointer. */
export type CableInHand = { readonly portId: string; readonly free: Point | null };

export type CableDrawing = {
  readonly inHand: CableInHand | null;
  /** What the last try broke, or was warned of. */
  readonly faults: readonly CableFinding[];
  /** Picks up a cable at a port, or plugs the one in hand there. */
  press(portId: string): void;
  /** The same by drag: from one socket to another. */
  startDrag(event: PointerEvent<HTMLElement>, portId: string, box: HTMLElement | null): void;
  letGo(): void;
};

const CLICK_PX = 5;

/** Drawing cables by drag, by two clicks, or with Enter on one socket and then on another. */
export function useCableInHand(rig: FullRig, onDrawn: (cableId: string) => void): CableDrawing {
  const edit = useEdit('rigs');
  const [inHand, setInHand] = useState<CableInHand | null>(null);
  const [faults, setFaults] = useState<readonly CableFinding[]>([]);
  useEffect(() => {
    if (!inHand) return;
    const escape = (event: KeyboardEvent) => {
      if (event.key === 'Escape') setInHand(null);
    };
    window.addEventListener('keydown', escape);
    return () => window.removeEventListener('keydown', escape);
  }, [inHand]);

  const plug = (first: string, second: string) => {
    setInHand(null);
    if (first === second) return;
    const isIn = (id: string) => rig.devices.some((d) => d.ports.some((p) => p.id === id && isInput(p)));
    // A cable can be picked up at either end.
    const [from, to] = isIn(first) && !isIn(second) ? [second, first] : [first, second];
    const result = plugCable(rig, from, to);
    setFaults(result.faults);
    const drawn = result.rig?.cables.at(-1);
    if (!drawn) return;
    // Onto the rig as it is by then: a cable drawn a moment ago may not be in the one that this was begun with.
    edit(rig.id, 'draw a cable', (now) => ({ ...now, cables: [...now.cables, drawn] }));
    onDrawn(drawn.id);
  };

  return {
    inHand,
    faults,
    press: (portId) => {
      setFaults([]);
      if (inHand) plug(inHand.portId, portId);
      else setInHand({ portId, free: null });
    },
    startDrag: (event, portId, box) => {
      if (event.button !== 0 || inHand || !box) return;
      const start = { x: event.clientX, y: event.clientY };
      const origin = box.getBoundingClientRect();
      const isDrag = (e: globalThis.PointerEvent) =>
        Math.hypot(e.clientX - start.x, e.clientY - start.y) > CLICK_PX;
      const move = (e: globalThis.PointerEvent) => {
        if (isDrag(e)) setInHand({ portId, free: { x: e.clientX - origin.left, y: e.clientY - origin.top } });
      };
      const up = (e: globalThis.PointerEvent) => {
        window.removeEventListener('pointermove', move);
        window.removeEventListener('pointerup', up);
        if (!isDrag(e)) return;
        const under = document.elementFromPoint(e.clientX, e.clientY)?.closest<HTMLElement>('[data-port]');
        if (under?.dataset['port']) plug(portId, under.dataset['port']);
        else setInHand(null);
      };
      window.addEventListener('pointermove', move);
      window.addEventListener('pointerup', up);
    },
    letGo: () => setInHand(null),
  };
}
