import { UnfoldHorizontal, UnfoldVertical } from 'lucide-react';
import type { RefObject } from 'react';
import { IconButton } from './IconButton';

/** A part of the frame that can be a line only. */
export type Folding = {
  readonly isFolded: boolean;
  /** It opens when something comes and folds when it has been quiet; `null` where it never does. */
  readonly isByItself: boolean | null;
  /** Folds or opens it, and leaves it so. */
  fold(isFolded: boolean): void;
  /** Lets it open and fold by itself, or leaves it as it is now. */
  byItself(on: boolean): void;
  /** The element: it does not fold under a hand. */
  readonly ref: RefObject<HTMLElement | null>;
};

/** Whether a part opens and folds by itself. */
export function ByItself({ folding, of }: { folding: Folding; of: 'floor' | 'monitor' }) {
  const { isByItself } = folding;
  if (isByItself === null) return null;
  return (
    <IconButton
      icon={of === 'floor' ? UnfoldVertical : UnfoldHorizontal}
      label={`The ${of} opens and folds by itself`}
      pressed={isByItself}
      onClick={() => folding.byItself(!isByItself)}
    />
  );
}
