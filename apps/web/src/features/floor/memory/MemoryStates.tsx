import type { Board, Preset } from '@idle-step/core/floor';
import { Check, CircleDashed, CircleHelp, Pencil } from 'lucide-react';
import { Button } from 'react-bootstrap';
import { placeWords, PLACE_WORDS, whenWords } from './stateWords';
import type { Memories, MemoryPlace, PlaceState } from './useMemory';

const ICONS = { same: Check, other: Pencil, none: CircleDashed, unknown: CircleHelp } as const;

/** The four places where a preset can be, and how each stands to the screen. */
export function MemoryStates({
  memories,
  board,
  preset,
  presets,
  onCompare,
}: {
  memories: Memories;
  board: Board;
  preset: Preset;
  presets: readonly Preset[];
  onCompare(place: MemoryPlace): void;
}) {
  const places: readonly (readonly [Exclude<MemoryPlace, 'here'>, PlaceState])[] = [
    ['saved', memories.saved],
    ['sent', memories.sent],
    ['stored', memories.stored],
  ];
  return (
    <ol className="memory-states" aria-label="Where this preset is">
      <li className="same">
        <span className="place-name">{PLACE_WORDS.here}</span>
        <strong>{preset.name}</strong>
        <span className="small muted num">{memories.bytes.length} bytes</span>
      </li>
      {places.map(([place, state]) => {
        const Icon = ICONS[state.kind];
        const words = placeWords(state, memories, board, presets, preset.id);
        return (
          <li key={place} className={state.kind}>
            <span className="place-name">{PLACE_WORDS[place]}</span>
            <strong>
              <Icon size={16} strokeWidth={2} aria-hidden="true" /> {words}
            </strong>
            <span className="small muted num">
              {'atMs' in state ? whenWords(state.atMs) : ''}
              {state.kind === 'other' && state.memory && (
                <Button variant="bare" onClick={() => onCompare(place)}>
                  Compare
                </Button>
              )}
            </span>
          </li>
        );
      })}
    </ol>
  );
}
