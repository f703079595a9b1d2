import type { ReactNode } from 'react';
import type { TapeMark as Mark } from '@idle-step/core/gear';
import { TapeMark } from '../../../ui/TapeMark';

/** One line of the drawing: its name, and what stands in it to scale. */
export function LineRow({
  name,
  mark,
  deviceName,
  className = '',
  children,
}: {
  name: string;
  mark?: Mark;
  deviceName?: string;
  className?: string;
  children: ReactNode;
}) {
  return (
    <div className={`line-row ${className}`} role="group" aria-label={name}>
      <span className="line-name">
        {mark && <TapeMark mark={mark} size={14} name={deviceName ?? ''} />}
        <span>{name}</span>
      </span>
      <div className="line-track">{children}</div>
    </div>
  );
}
