import { useRef, useState, type ReactNode } from 'react';

type Props = {
  label: string;
  className: string;
  /** Where it stands, and how wide it is, in beats. */
  beat: number;
  beats?: number;
  /** Beats over the whole width. */
  total: number;
  /** How far an arrow moves it, and an arrow with Shift, in beats. */
  step: number;
  bigStep: number;
  isInHand?: boolean;
  onPick(): void;
  /** To a beat, from 0 on, not yet on any grid. */
  onMove(beat: number): void;
  onRemove?(): void;
  children?: ReactNode;
};

/** Something at a beat of the time line: clicked to be taken in hand, moved by drag and by the arrows. */
export function LineItem(props: Props) {
  const { label, className, beat, beats, total, step, bigStep, isInHand, children } = props;
  const [dragged, setDragged] = useState<number | null>(null);
  const drag = useRef<{ readonly x: number; readonly perBeat: number } | null>(null);
  const at = Math.max(0, beat + (dragged ?? 0));
  return (
    <button
      type="button"
      className={`line-item ${className} ${isInHand ? 'in-hand' : ''} ${dragged === null ? '' : 'dragged'}`}
      style={{
        left: `${(at / total) * 100}%`,
        ...(beats === undefined ? {} : { width: `${(beats / total) * 100}%` }),
      }}
      aria-label={label}
      aria-pressed={isInHand ?? false}
      title="Drag, or arrows; with Shift by bars"
      onClick={() => {
        if (drag.current === null) props.onPick();
      }}
      onPointerDown={(e) => {
        const track = e.currentTarget.parentElement!.clientWidth;
        drag.current = null;
        const from = { x: e.clientX, perBeat: track / total };
        const button = e.currentTarget;
        const move = (event: PointerEvent) => {
          if (drag.current === null && Math.abs(event.clientX - from.x) < 4) return;
          drag.current = from;
          setDragged((event.clientX - from.x) / from.perBeat);
        };
        const end = (event: PointerEvent) => {
          button.removeEventListener('pointermove', move);
          button.removeEventListener('pointerup', end);
          button.removeEventListener('pointercancel', end);
          setDragged(null);
          if (event.type === 'pointerup' && drag.current !== null)
            props.onMove(Math.max(0, beat + (event.clientX - from.x) / from.perBeat));
        };
        button.setPointerCapture(e.pointerId);
        button.addEventListener('pointermove', move);
        button.addEventListener('pointerup', end);
        button.addEventListener('pointercancel', end);
      }}
      onKeyDown={(e) => {
        const by = e.key === 'ArrowLeft' ? -1 : e.key === 'ArrowRight' ? 1 : 0;
        if (by !== 0) {
          e.preventDefault();
          props.onMove(Math.max(0, beat + by * (e.shiftKey ? bigStep : step)));
        } else if ((e.key === 'Delete' || e.key === 'Backspace') && props.onRemove) {
          e.preventDefault();
          props.onRemove();
        }
      }}
    >
      {children}
    </button>
  );
}
