import { useEffect, useRef, useState, type RefObject } from 'react';

/** Width of an element in px, kept up to date. */
export function useMeasure(initialPx = 900): [RefObject<HTMLDivElement | null>, number] {
  const ref = useRef<HTMLDivElement>(null);
  const [widthPx, setWidthPx] = useState(initialPx);
  useEffect(() => {
    const element = ref.current;
    if (!element) return;
    const observer = new ResizeObserver(() => setWidthPx(element.clientWidth));
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  return [ref, widthPx];
}
