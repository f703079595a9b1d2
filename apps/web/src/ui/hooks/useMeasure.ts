import { useCallback, useEffect, useState, type RefCallback } from 'react';

/** Width of an element in px, kept up to date. The ref may come and go with the element. */
export function useMeasure(initialPx = 900): [RefCallback<HTMLDivElement>, number] {
  const [element, setElement] = useState<HTMLDivElement | null>(null);
  const [widthPx, setWidthPx] = useState(initialPx);
  // Measured before it is painted: nothing moves away from under the mouse.
  const measure = useCallback((found: HTMLDivElement | null) => {
    setElement(found);
    if (found) setWidthPx(found.clientWidth);
  }, []);
  useEffect(() => {
    if (!element) return;
    const observer = new ResizeObserver(() => setWidthPx(element.clientWidth));
    observer.observe(element);
    return () => observer.disconnect();
  }, [element]);
  return [measure, widthPx];
}
