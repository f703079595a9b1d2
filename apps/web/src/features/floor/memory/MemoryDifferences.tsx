import { memoryDifferences, readMemory, type BoardMemory } from '@idle-step/core/memory';
import type { Board } from '@idle-step/core/floor';
import { useMemo } from 'react';
import { Pick } from '../../../ui/Fields';
import { LIST_WORDS } from '../presets/listWords';
import { PLACE_WORDS } from './stateWords';
import { PLACES, type Memories, type MemoryPlace } from './useMemory';

const WHAT_WORDS = {
  ...LIST_WORDS,
  label: 'label',
  times: 'times',
  lamp: 'lamp',
  pedal: 'how it moves',
  touch: 'touch',
  name: 'name of the bank',
} as const;

/** What is at a place; `null` where nothing is known of it. */
function memoryAt({ here, saved, record }: Memories, place: MemoryPlace): BoardMemory | null {
  switch (place) {
    case 'here':
      return here;
    case 'saved':
      return saved.kind === 'same' ? here : saved.kind === 'other' ? saved.memory : null;
    case 'sent':
    case 'stored': {
      const held = record[place];
      const read = held === null || held === 'unknown' ? null : readMemory(held.bytes);
      return read?.ok ? read.value : null;
    }
  }
}

/** What differs between two of the four places, control by control. */
export function MemoryDifferences({
  memories,
  board,
  pair,
  onPick,
}: {
  memories: Memories;
  board: Board;
  pair: readonly [MemoryPlace, MemoryPlace];
  onPick(pair: readonly [MemoryPlace, MemoryPlace]): void;
}) {
  const [first, second] = pair;
  const [a, b] = [memoryAt(memories, first), memoryAt(memories, second)];
  const rows = useMemo(() => memoryDifferences(a, b, board), [a, b, board]);
  const options = PLACES.map((value) => ({ value, text: PLACE_WORDS[value] }));
  return (
    <section className="memory-differences" aria-label="What differs">
      <div className="fields-row">
        <Pick label="Compare" value={first} options={options} onPick={(p) => onPick([p, second])} />
        <Pick label="with" value={second} options={options} onPick={(p) => onPick([first, p])} />
      </div>
      {!a || !b ? (
        <p className="muted">
          Nothing is known of what is{' '}
          {a ? PLACE_WORDS[second].toLowerCase() : PLACE_WORDS[first].toLowerCase()}.
        </p>
      ) : rows.length === 0 ? (
        <p role="status">No difference.</p>
      ) : (
        <div className="preset-scroll" role="region" aria-label="Differences" tabIndex={0}>
          <table className="sends-list">
            <thead>
              <tr>
                <th scope="col">Bank</th>
                <th scope="col">Control</th>
                <th scope="col">What</th>
                <th scope="col">{PLACE_WORDS[first]}</th>
                <th scope="col">{PLACE_WORDS[second]}</th>
              </tr>
            </thead>
            <tbody>
              {rows.map((row) => (
                <tr key={row.key}>
                  <td>{row.pageName}</td>
                  <td>{row.controlName}</td>
                  <td>{WHAT_WORDS[row.list]}</td>
                  <td className="num">{row.first ?? <span className="muted">nothing</span>}</td>
                  <td className="num">{row.second ?? <span className="muted">nothing</span>}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </section>
  );
}
