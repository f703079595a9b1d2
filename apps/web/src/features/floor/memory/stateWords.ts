import { memoryDifferences } from '@idle-step/core/memory';
import type { Board, Preset } from '@idle-step/core/floor';
import type { JobEnd, JobKind, JobStage } from '@idle-step/core/transfer';
import { counted } from '../../../words/counted';
import { dayOf, timeOfDay } from '../../../words/times';
import type { Memories, PlaceState } from './useMemory';

export const PLACE_WORDS = {
  here: 'Edited',
  saved: 'Saved',
  sent: 'Sent to the board',
  stored: 'Stored in the board',
} as const;

/** The time of today, or the day with it. */
export function whenWords(atMs: number | null, nowMs = Date.now()): string {
  if (atMs === null) return '';
  const isToday = new Date(atMs).toDateString() === new Date(nowMs).toDateString();
  return isToday ? timeOfDay(atMs) : `${dayOf(new Date(atMs).toISOString())}, ${timeOfDay(atMs)}`;
}

/** How a place stands to the screen, in words. */
export function placeWords(
  state: PlaceState,
  { here }: Pick<Memories, 'here'>,
  board: Board,
  presets: readonly Preset[],
  presetId: string,
): string {
  switch (state.kind) {
    case 'same':
      return 'as it is here';
    case 'none':
      return 'nothing known';
    case 'unknown':
      return 'not known: see what is in it';
    case 'other': {
      if (state.presetId !== null && state.presetId !== presetId) {
        const name = presets.find((p) => p.id === state.presetId)?.name;
        return name ? `another preset: ${name}` : 'a preset that is gone';
      }
      if (!state.memory) return 'something that cannot be read';
      const count = memoryDifferences(state.memory, here, board).length;
      return count === 0 ? 'set otherwise' : `differs in ${counted(count, 'place')}`;
    }
  }
}

export const STAGE_WORDS: Record<JobStage, string> = {
  identity: 'Asking the board who it is',
  state: 'Asking what it holds',
  sending: 'Sending',
  reading: 'Reading back',
  storing: 'Storing',
};

const DONE: Record<JobKind, string> = {
  send: 'Sent and read back: the board has it as it was sent. It is not stored yet: once the board is switched off, it is gone.',
  store: 'Stored: the board keeps it when it is switched off.',
  read: 'Read: what the board plays by is compared below.',
  look: 'The board has said what it holds.',
};

/** How a job ended, as a sentence with what to do. */
export function endWords(kind: JobKind, end: JobEnd, name: string): string {
  switch (end) {
    case 'done':
      return DONE[kind];
    case 'cancelled':
      return kind === 'store'
        ? 'Cancelled. See what is in the board to know whether it was stored.'
        : 'Cancelled. What the board had is unchanged unless it says otherwise above.';
    case 'refused':
      return `${name} broke it off; nothing in it has changed. Try it again.`;
    case 'no-answer':
      return `${name} does not answer. Is it switched on and ready to receive, are both cables there, is its port enabled in Rig?`;
    case 'other-device':
      return `Something answers, and it is no board that takes this format of memory. Set ${name} by hand, or look at its cables in Rig.`;
    case 'other-controls':
      return `The board that answers has another number of controls than ${name} has here. Nothing was sent: lay its controls out as they are, under Board.`;
    case 'differs':
      return kind === 'store'
        ? 'What the board stored is not what was sent last. Send it again, then store it.'
        : 'What came back is not what was sent. Send it again.';
    case 'empty':
      return kind === 'store'
        ? 'The board had nothing to store: send it first.'
        : 'There is nothing in the memory of this board.';
  }
}
