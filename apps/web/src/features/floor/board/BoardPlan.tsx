import { type Board, type Control, GRID_MM, shifted } from '@idle-step/core/floor';
import { useRef, type KeyboardEvent, type PointerEvent } from 'react';
import { Corners } from '../../../ui/Corners';
import { useDragged } from '../../../ui/hooks/useDragged';
import { useMeasure } from '../../../ui/hooks/useMeasure';
import { messageWords } from '../../../boards/useLearn';

const MAX_SCALE = 0.9;
const MAX_HEIGHT_PX = 300;

type Pulled = { readonly ids: ReadonlySet<string>; readonly by: { readonly x: number; readonly y: number } };

type Props = {
  board: Board;
  selected: ReadonlySet<string>;
  learningId: string | null;
  onSelect(ids: ReadonlySet<string>): void;
  onPlace(controls: Control[]): void;
  onRemove(): void;
};

/** A board seen from above on a grid of 10 mm; its controls are moved by drag and by the arrows. */
export function BoardPlan({ board, selected, learningId, onSelect, onPlace, onRemove }: Props) {
  const [box, widthPx] = useMeasure(740);
  const scale = Math.min(MAX_SCALE, (widthPx - 4) / board.widthMm, MAX_HEIGHT_PX / board.heightMm);
  const drag = useRef<{ x: number; y: number; ids: ReadonlySet<string> } | null>(null);
  const held = useDragged<Pulled>();
  const { drawn } = held;
  const shown = drawn ? shifted(board.controls, drawn.ids, drawn.by, board) : board.controls;
  const take = (e: PointerEvent<HTMLElement>, id: string) => {
    if (e.button !== 0) return;
    const next = e.shiftKey
      ? new Set(selected.has(id) ? [...selected].filter((s) => s !== id) : [...selected, id])
      : selected.has(id)
        ? selected
        : new Set([id]);
    onSelect(next);
    drag.current = { x: e.clientX, y: e.clientY, ids: next };
    e.currentTarget.setPointerCapture(e.pointerId);
  };
  const pull = (e: PointerEvent<HTMLElement>) => {
    if (!drag.current || !e.currentTarget.hasPointerCapture(e.pointerId)) return;
    const by = { x: (e.clientX - drag.current.x) / scale, y: (e.clientY - drag.current.y) / scale };
    // A finger trembles: less than a grid step is no drag.
    if (held.now() || Math.hypot(by.x, by.y) >= GRID_MM * 2) held.set({ ids: drag.current.ids, by });
  };
  const drop = (e: PointerEvent<HTMLElement>, id: string) => {
    const pulled = held.now();
    if (pulled) onPlace(shifted(board.controls, pulled.ids, pulled.by, board));
    // Of several in hand a click that was no drag takes this one alone.
    else if (drag.current && !e.shiftKey) onSelect(new Set([id]));
    letGo();
  };
  const letGo = () => {
    drag.current = null;
    held.set(null);
  };
  const onKey = (e: KeyboardEvent, id: string) => {
    const far = e.shiftKey ? 10 : GRID_MM;
    const by = {
      ArrowLeft: { x: -far, y: 0 },
      ArrowRight: { x: far, y: 0 },
      ArrowUp: { x: 0, y: -far },
      ArrowDown: { x: 0, y: far },
    }[e.key];
    const ids = selected.has(id) ? selected : new Set([id]);
    if (by && !e.altKey && !e.ctrlKey && !e.metaKey) {
      e.preventDefault();
      onSelect(ids);
      onPlace(shifted(board.controls, ids, by, board));
    } else if (e.key === 'Enter' || e.key === ' ') {
      e.preventDefault();
      onSelect(e.shiftKey ? new Set([...selected, id]) : new Set([id]));
    } else if (e.key === 'Delete') {
      e.preventDefault();
      onRemove();
    } else if (e.key.toLowerCase() === 'a' && (e.ctrlKey || e.metaKey)) {
      e.preventDefault();
      onSelect(new Set(board.controls.map((c) => c.id)));
    }
  };
  return (
    <div className="plan-room" ref={box}>
      <div
        className="plan"
        data-bs-theme="dark"
        role="group"
        aria-label="Controls as they lie"
        style={{
          width: board.widthMm * scale,
          height: board.heightMm * scale,
          backgroundSize: `${10 * scale}px ${10 * scale}px`,
        }}
        onPointerDown={(e) => {
          if (e.target === e.currentTarget) onSelect(new Set());
        }}
      >
        {shown.map((c) => (
          <button
            key={c.id}
            type="button"
            className={`plan-control ${c.kind} ${selected.has(c.id) ? 'framed' : ''} ${c.id === learningId ? 'learning' : ''}`}
            aria-pressed={selected.has(c.id)}
            aria-label={`${c.name} ${messageWords(c.sends)}`}
            style={{
              left: c.xMm * scale,
              top: c.yMm * scale,
              width: c.widthMm * scale,
              height: c.heightMm * scale,
            }}
            onPointerDown={(e) => take(e, c.id)}
            onPointerMove={pull}
            onPointerUp={(e) => drop(e, c.id)}
            onPointerCancel={letGo}
            onKeyDown={(e) => onKey(e, c.id)}
          >
            {selected.has(c.id) && <Corners />}
            <span className="plan-name">{c.name}</span>
            <span className="plan-sends" data-sends={messageWords(c.sends)} />
          </button>
        ))}
      </div>
    </div>
  );
}
