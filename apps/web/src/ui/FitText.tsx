import { useLayoutEffect, useRef } from 'react';

type Props = {
  text: string;
  /** Bounds of the size, px. */
  max: number;
  min: number;
  /**
   * Whether the height of the box around bounds the size too. Such a box has its size whatever stands in it; another may
   * be as wide as its text.
   */
  byHeight?: boolean;
};

type Box = { readonly width: number; readonly height: number };

/** Lines of text are this much taller than their type. */
const LINE = 1.15;
/** Size at which texts are measured, px. */
const MEASURED_AT = 100;

/**
 * Text as large as its box allows; the box keeps its size. The box is measured when it changes, the text beside the page,
 * so that another text in the same box costs no layout.
 */
export function FitText({ text, max, min, byHeight = true }: Props) {
  const line = useRef<HTMLSpanElement>(null);
  const box = useRef<Box | null>(null);
  const fit = useRef<() => void>(() => undefined);
  useLayoutEffect(() => {
    const element = line.current;
    const around = element?.parentElement;
    if (!element || !around) return;
    fit.current = () => {
      const tallest = byHeight ? Math.floor((box.current ??= boxOf(element)).height / LINE) : max;
      const largest = Math.max(min, Math.min(max, tallest));
      if (!byHeight) {
        // As wide as its text would like to be.
        element.style.fontSize = `${largest}px`;
        box.current = boxOf(element);
      }
      const room = box.current!.width;
      const wanted = (widthOf(text, fontOf(element)) * largest) / MEASURED_AT;
      const size = wanted > room ? Math.max(min, Math.floor((largest * room) / wanted) - 1) : largest;
      element.style.fontSize = `${size}px`;
    };
    fit.current();
  }, [text, max, min, byHeight]);
  useLayoutEffect(() => {
    const element = line.current;
    const around = element?.parentElement;
    if (!element || !around) return;
    const observer = new ResizeObserver(() => {
      const now = boxOf(element);
      if (now.width === box.current?.width && now.height === box.current.height) return;
      box.current = now;
      fit.current();
    });
    observer.observe(around);
    // The size is wrong until the type has arrived.
    void document.fonts.ready.then(() => fit.current());
    return () => observer.disconnect();
  }, []);
  return (
    <span ref={line} className="fit-text">
      {text}
    </span>
  );
}

const boxOf = (element: HTMLElement): Box => ({
  width: element.clientWidth,
  height: element.parentElement?.clientHeight ?? 0,
});

/** The type of texts by the class of their box: to ask for it has every style of the page worked out. */
const fonts = new Map<string, string>();

/** The type of an element, as a canvas reads it. */
function fontOf(element: HTMLElement): string {
  const key = element.parentElement?.className ?? '';
  let font = fonts.get(key);
  if (font === undefined) {
    const style = getComputedStyle(element);
    font = `${style.fontWeight} ${MEASURED_AT}px ${style.fontFamily}`;
    fonts.set(key, font);
  }
  return font;
}

let ruler: CanvasRenderingContext2D | null = null;

function widthOf(text: string, font: string): number {
  ruler ??= document.createElement('canvas').getContext('2d');
  if (!ruler) return 0;
  ruler.font = font;
  return ruler.measureText(text).width;
}
