import { useEffect, type RefObject } from 'react';

/**
 * Marks a box with `data-aside` while it is scrolled to the right, so that its first column stands only then: each
 * cell that stands is a layer of its own, and drawing many of them holds up all else.
 */
export function useScrolledAside(box: RefObject<HTMLElement | null>): void {
  useEffect(() => {
    const scrolled = box.current;
    if (!scrolled) return;
    const mark = () => scrolled.toggleAttribute('data-aside', scrolled.scrollLeft > 0);
    mark();
    scrolled.addEventListener('scroll', mark, { passive: true });
    return () => scrolled.removeEventListener('scroll', mark);
  }, [box]);
}
