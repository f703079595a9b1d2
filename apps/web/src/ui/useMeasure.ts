import { useEffect, useState, type RefCallback } from 'react';

/** Width of an element in px, kept up to date. The ref may come and go with the element. */
export function useMeasure(initialPx = 900): [RefCallback<HTMLDivElement>, number] {
  const [element, setElement] = useState<HTMLDivElement | null>(null);
  const [widthPx, setWidthPx] = useState(initialPx);
  useEffect(() => {
    if (!element) return;
    const observer = new ResizeObserver(() => setWidthPx(element.clientWidth));
    observer.observe(element);
    return () => observer.disconnect();
  }, [element]);
  return [setElement, widthPx];
}
