import { differenceOf, type Finding, type FindingPlace, type Json, type Mend } from '../../edits';
import type { Show, World } from '../../engine';
import type { FullRig } from '../../routing';
import type { Setlist } from '../../show';
import { idFrom } from './nearest';

/** What the proof can hold against a rig, its boards, its routes, its songs and a set. */
export type ProofCode = keyof typeof WHY;
export type ProofFinding = Finding<ProofCode>;

/** What is known of real gear beside the rig: it is told, and never computed. */
export type GearKnown = {
  /** Boards that work by themselves and of which the memory is not what their preset says, or is not known. */
  readonly notStored: ReadonlyMap<string, 'differs' | 'unknown'>;
  /** When the last line check ended, in ms since 1970; `null` where none was made. */
  readonly lastCheckMs: number | null;
  readonly nowMs: number;
  /** The day of now where one plays. Example: `2026-11-26`. */
  readonly today: string;
  /** Ports of the rig that were bound to a port of the browser which is not there. */
  readonly portsAway: readonly string[];
};

export const NOTHING_KNOWN: GearKnown = {
  notStored: new Map(),
  lastCheckMs: null,
  nowMs: 0,
  today: '',
  portsAway: [],
};

/** All that is looked at. The world is compiled from the show, which is what of the set is played this evening. */
export type Subject = {
  readonly world: World;
  readonly show: Show & { readonly rig: FullRig };
  readonly set: Setlist | null;
  readonly known: GearKnown;
};

/** Why each of them matters, in a sentence. */
export const WHY = {
  gone: 'Whatever points at something that is gone does nothing.',
  'same-device': 'Nothing goes through such a cable.',
  'wrong-direction': 'Nothing goes through such a cable.',
  'other-link': 'Nothing goes through such a cable.',
  'no-host': 'Two USB devices do not talk to each other.',
  'two-hosts': 'Two USB hosts do not talk to each other.',
  split: 'An output that drives two inputs may reach neither.',
  merge: 'Two outputs on one input garble each other.',
  loop: 'A message would go round for ever.',
  'same-channel': 'What is meant for one moves the other too.',
  'reaches-nothing': 'What is pressed there is never heard.',
  'row-double': 'One message moves both: what is set by one row is undone by the other.',
  'no-cable': 'Nothing that the set wants of it arrives.',
  'packed-away': 'Nothing that the set wants of it arrives.',
  'port-off': 'What leaves by a port that is not enabled is not sent.',
  'port-away': 'What is behind a port that is not there neither hears nor is heard.',
  'start-up': 'Gear that was started in the wrong way often stays silent.',
  double: 'Two switches of one page do the same; one of them is free for something else.',
  reserved: 'The device uses this number itself, and does not do what is wanted.',
  'off-by-one': 'What a device shows is often one more than what is sent; the wrong sound comes.',
  'beyond-board': 'The board by itself does nothing there.',
  'lamp-turned-round': 'Whoever trusts the lamp presses once too often.',
  'toggles-twice': 'Going down switches it over, and letting go switches it back.',
  'latching-gesture': 'A latching switch is heard once a press: a hold or a double press never comes.',
  drifts: 'After a scene has set it, the board still believes what it believed before.',
  'note-hangs': 'A note that is not ended sounds on.',
  'stuck-bank': 'Whoever gets there does not get on by foot.',
  'told-deaf': 'A device that loads a program does not hear what comes too soon.',
  'not-stored': 'The board plays what it has stored, whatever is written here.',
  ring: 'A message would go round for ever.',
  starved: 'What is wanted below does not arrive while the gate is closed.',
  'none-armed': 'The instrument is not heard.',
  'two-armed': 'The instrument is heard twice.',
  'value-outside': 'The device has no such value, and does something else or nothing.',
  'scene-gone': 'What a scene says of something that is gone is not sent.',
  'not-in-force': 'Under its setting the device does not answer to this.',
  'scene-kept': 'The device keeps this for its own hardware, and does not do what the scene wants.',
  'bank-gone': 'The board stays in the bank in which it is.',
  'glide-too-long': 'The next scene comes before the glide has arrived.',
  'too-slow': 'The scene is heard late, part by part.',
  'no-scenes': 'There is nothing to bring about in this song.',
  'calls-overlap': 'The program that is meant to call a song does something else.',
  'song-gone': 'It cannot be played.',
  'check-old': 'A plug or a switch may have failed since.',
} as const;

export const found = (
  code: ProofCode,
  place: FindingPlace,
  sentence: string,
  mends: readonly (Mend | null)[] = [],
  severity: Finding['severity'] = 'warned',
): ProofFinding => ({ code, severity, place, sentence, mends: mends.flatMap((m) => m ?? []) });

/** A mend that makes a document into another one; `null` where that changes nothing. */
export function mendTo<D extends Json & { readonly id: string }>(
  text: string,
  document: Mend['document'],
  before: D,
  after: D,
): Mend | null {
  const changes = differenceOf(before, after);
  return changes.length === 0 ? null : { text, document, documentId: before.id, changes };
}

/**
 * An identifier of the facts that a finding rests on. It changes when they do, so that a finding which was set aside
 * comes back.
 */
export const groundOf = ({ code, place, sentence }: Finding): string =>
  idFrom(JSON.stringify([code, place, sentence]));
