import { useLayoutEffect, useRef } from 'react';

type Props = {
  text: string;
  /** Bounds of the size, px. */
  max: number;
  min: number;
  /** Whether the height of the box around bounds the size too. */
  byHeight?: boolean;
};

/** Lines of text are this much taller than their type. */
const LINE = 1.15;

/** Text as large as its box allows; the box keeps its size. */
export function FitText({ text, max, min, byHeight = true }: Props) {
  const line = useRef<HTMLSpanElement>(null);
  useLayoutEffect(() => {
    const element = line.current;
    const around = element?.parentElement;
    if (!element || !around) return;
    let fitted = '';
    const fit = () => {
      const tallest = byHeight ? Math.floor(around.clientHeight / LINE) : max;
      const largest = Math.max(min, Math.min(max, tallest));
      element.style.fontSize = `${largest}px`;
      const room = element.clientWidth;
      const wanted = element.scrollWidth;
      const size = wanted > room ? Math.max(min, Math.floor((largest * room) / wanted) - 1) : largest;
      element.style.fontSize = `${size}px`;
      fitted = `${around.clientWidth} ${around.clientHeight}`;
    };
    fit();
    const observer = new ResizeObserver(() => {
      if (`${around.clientWidth} ${around.clientHeight}` !== fitted) fit();
    });
    observer.observe(around);
    // The size is wrong until the type has arrived.
    void document.fonts.ready.then(fit);
    return () => observer.disconnect();
  }, [text, max, min, byHeight]);
  return (
    <span ref={line} className="fit-text">
      {text}
    </span>
  );
}
