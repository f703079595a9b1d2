import { useLayoutEffect, useRef } from 'react';

/** Text as large as its box allows, between `min` and `max` px; the box keeps its size. */
export function FitText({
  text,
  max,
  min,
  className = '',
}: {
  text: string;
  max: number;
  min: number;
  className?: string;
}) {
  const box = useRef<HTMLSpanElement>(null);
  useLayoutEffect(() => {
    const element = box.current;
    if (!element) return;
    let fittedWidth = -1;
    const fit = () => {
      fittedWidth = element.clientWidth;
      element.style.fontSize = `${max}px`;
      const room = element.clientWidth;
      const wanted = element.scrollWidth;
      const size = wanted > room ? Math.max(min, Math.floor((max * room) / wanted) - 1) : max;
      element.style.fontSize = `${size}px`;
    };
    fit();
    const observer = new ResizeObserver(() => {
      if (element.clientWidth !== fittedWidth) fit();
    });
    observer.observe(element);
    // The size is wrong until the type has arrived.
    void document.fonts.ready.then(fit);
    return () => observer.disconnect();
  }, [text, max, min]);
  return (
    <span ref={box} className={`fit-text ${className}`}>
      {text}
    </span>
  );
}
