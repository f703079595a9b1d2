import type { ActionListName, SentKind } from '../floor';

/** Gestures, as what a board can tell. */
export const LIST_WORDS: Record<ActionListName, string> = {
  press: 'a press',
  release: 'a release',
  hold: 'a hold',
  doublePress: 'a double press',
  toe: 'the toe',
  heel: 'the heel',
};

/** Kinds of messages, as what a board can send. */
export const SENT_WORDS: Record<SentKind, string> = {
  note: 'notes',
  controller: 'controllers',
  program: 'programs',
  sysex: 'SysEx',
  clock: 'clock',
};
