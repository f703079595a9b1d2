import { useEffect, useRef } from 'react';

/** What a click means something on; everything else of a place is the bare page. */
const MEANT =
  'button, a, input, select, textarea, label, fieldset, table, [role], .plan, .dropdown-menu, .modal';

/** A click on the bare page: beside everything that can be pressed or typed into. */
export function useBareClick(onBare: () => void): void {
  const latest = useRef(onBare);
  useEffect(() => {
    latest.current = onBare;
  });
  useEffect(() => {
    const down = ({ target, button }: PointerEvent) => {
      if (button !== 0 || !(target instanceof Element)) return;
      const within = target.closest('.work');
      if (within && target.closest(MEANT) === null) latest.current();
    };
    document.addEventListener('pointerdown', down);
    return () => document.removeEventListener('pointerdown', down);
  }, []);
}
