import { useId, type KeyboardEvent } from 'react';
import { OfferedValues } from './OfferedValues';
import type { CellGridState, Typing } from './useCellGrid';

/** What cells do with what happens in them. */
export type CellActs = Pick<CellGridState, 'pick' | 'type' | 'commit' | 'onKey'> & {
  onTypingKey(event: KeyboardEvent): void;
};

/** The field of a cell while something is typed in it. */
export function CellInput({
  label,
  typing,
  values,
  acts,
}: {
  label: string;
  typing: Typing;
  /** What may be typed here. */
  values: readonly string[];
  acts: CellActs;
}) {
  const listId = useId();
  return (
    <>
      <input
        className="cell-input num"
        aria-label={label}
        list={listId}
        autoComplete="off"
        aria-invalid={typing.error !== null}
        value={typing.text}
        autoFocus
        onChange={(e) => acts.type(e.target.value)}
        onKeyDown={acts.onTypingKey}
        onBlur={(e) => {
          if (typing.error === null) acts.commit(e.target.value);
        }}
      />
      <OfferedValues id={listId} values={values} />
    </>
  );
}
