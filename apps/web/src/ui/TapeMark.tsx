import type { TapeMark as Mark } from '@idle-step/core/gear';

const THICK = { fill: 'none', stroke: 'currentColor' } as const;

/** The outlines of the tape marks, on a 16 by 16 field. */
const SHAPES: Record<Mark['shape'], React.ReactNode> = {
  cross: <path {...THICK} strokeWidth={4.2} d="M2.6 2.6 13.4 13.4M13.4 2.6 2.6 13.4" />,
  tee: <path {...THICK} strokeWidth={4.4} d="M1 4.1H15M8 4.1V15.4" />,
  corner: <path {...THICK} strokeWidth={4.6} d="M4 1V12H15" />,
  bar: <path {...THICK} strokeWidth={5.6} d="M.6 8H15.4" />,
  ring: <circle {...THICK} strokeWidth={3.6} cx={8} cy={8} r={5.2} />,
  chevron: <path {...THICK} strokeWidth={4.4} d="M2 12.6 8 5.2 14 12.6" />,
  dot: <circle fill="currentColor" cx={8} cy={8} r={6.2} />,
  triangle: <path fill="currentColor" d="M8 1.4 15.4 14.4H.6Z" />,
  pair: <path {...THICK} strokeWidth={4} d="M4.4 1.2V14.8M11.6 1.2V14.8" />,
  box: <path {...THICK} strokeWidth={3.4} d="M3 3H13V13H3Z" />,
};

/** The tape mark of a device: it stands wherever the device is the target of something. */
export function TapeMark({ mark, name, size = 14 }: { mark: Mark; name?: string; size?: number }) {
  const label = name ? { role: 'img', 'aria-label': name } : { 'aria-hidden': true };
  return (
    <svg className={`tape-mark t-${mark.colour}`} width={size} height={size} viewBox="0 0 16 16" {...label}>
      {SHAPES[mark.shape]}
    </svg>
  );
}
