import { crc32, dumpFrame, PACKET_BYTES } from './dumpFrame';
import { handshake, readHandshake, type Handshake } from './universal';

/** How a dump goes over a link. */
export type Pace = {
  /** What a byte takes on the link, in ms. */
  readonly msPerByte: number;
  /** What a slow receiver needs between two packets, in ms. */
  readonly gapMs: number;
  /** So long an answer may take before what was sent is sent again, in ms. */
  readonly answerMs: number;
  /** So long a receiver may have one wait, in ms. */
  readonly waitMs: number;
  /** So long the first wait counts, in ms: then the same is sent again, and who means it says it again. */
  readonly doubtMs: number;
  /** How often the same thing is sent at the most. */
  readonly tries: number;
};

/** Common practice, no source: what receivers of dumps bear. */
export const PLAIN_PACE: Pace = {
  msPerByte: 0.32,
  gapMs: 0,
  answerMs: 15,
  waitMs: 10_000,
  doubtMs: 1000,
  tries: 12,
};

export type TransferEnd = 'done' | 'cancelled' | 'refused' | 'no-answer';

/** A dump on its way out. */
export type Sending = {
  readonly device: number;
  readonly bytes: Uint8Array;
  readonly pace: Pace;
  /** What is sent now: 0 the head, then the packets from 1, then the end of the file. */
  readonly at: number;
  /** How often it was sent. */
  readonly tried: number;
  /** When it is sent, or sent again, if nothing is heard until then; `null` where nothing more is sent. */
  readonly dueMs: number | null;
  readonly beganMs: number;
  /** The receiver has it wait. */
  readonly isHeld: boolean;
  /** It was told to wait once, which may be damage. */
  readonly isWaitSaid: boolean;
  /** A cancel was heard that may be damage: it counts when it is said again. */
  readonly isDoubted: boolean;
  /** The end of the file was sent once: the receiver may have all, whatever it says. */
  readonly wasWhole: boolean;
  /** How often it was begun anew. */
  readonly restarts: number;
  readonly end: TransferEnd | null;
};

export type TransferEvent =
  /** Time has come. */
  | { readonly kind: 'tick'; readonly atMs: number }
  /** System exclusive, without `F0` and `F7`. */
  | { readonly kind: 'heard'; readonly atMs: number; readonly data: ArrayLike<number> }
  | { readonly kind: 'cancel'; readonly atMs: number };

/** A transfer after an event, and what it sends: data between `F0` and `F7`. */
export type Transferred<S> = { readonly state: S; readonly send: readonly (readonly number[])[] };

const packetsOf = (bytes: Uint8Array): number => Math.ceil(bytes.length / PACKET_BYTES);

/** A dump that begins to be sent. @param bytes the whole memory. */
export const startSending = (
  device: number,
  bytes: Uint8Array,
  atMs: number,
  pace: Pace = PLAIN_PACE,
): Sending => ({
  device,
  bytes,
  pace,
  at: 0,
  tried: 0,
  dueMs: atMs,
  beganMs: atMs,
  isHeld: false,
  isWaitSaid: false,
  isDoubted: false,
  wasWhole: false,
  restarts: 0,
  end: null,
});

/** The dump after an event. Nothing happens any more once it has ended. */
export function sendOn(state: Sending, event: TransferEvent): Transferred<Sending> {
  if (state.end !== null) return { state, send: [] };
  switch (event.kind) {
    case 'cancel':
      return {
        state: ended(state, 'cancelled'),
        send: [handshake('cancel', state.device, state.at)],
      };
    case 'tick':
      if (state.dueMs === null || event.atMs < state.dueMs) return { state, send: [] };
      return sent(state, event.atMs);
    case 'heard': {
      const said = readHandshake(event.data);
      return said?.device === state.device ? answered(state, said, event.atMs) : { state, send: [] };
    }
  }
}

/** How far a dump is: 0–1, and how long it takes yet at the pace so far, in ms. */
export function progressOf(
  state: Sending,
  atMs: number,
): { readonly share: number; readonly leftMs: number } {
  if (state.end === 'done') return { share: 1, leftMs: 0 };
  const all = packetsOf(state.bytes) + 2;
  const share = Math.min(1, state.at / all);
  const soFarMs = Math.max(0, atMs - state.beganMs);
  const plainMs = (all - state.at) * (PACKET_BYTES * (8 / 7) + 12) * state.pace.msPerByte;
  return { share, leftMs: state.at === 0 ? plainMs : (soFarMs / state.at) * (all - state.at) };
}

const ended = (state: Sending, end: TransferEnd): Sending => ({ ...state, end, dueMs: null });

function dataAt({ device, bytes, at }: Sending): number[] {
  if (at === 0) return dumpFrame({ kind: 'head', device, length: bytes.length, crc: crc32(bytes) });
  if (at > packetsOf(bytes)) return handshake('end-of-file', device, at);
  const from = (at - 1) * PACKET_BYTES;
  return dumpFrame({
    kind: 'packet',
    device,
    number: at,
    bytes: bytes.subarray(from, from + PACKET_BYTES),
  });
}

function sent(state: Sending, atMs: number): Transferred<Sending> {
  if (state.tried >= state.pace.tries || state.isHeld) return { state: ended(state, 'no-answer'), send: [] };
  const data = dataAt(state);
  const leftMs = atMs + (data.length + 2) * state.pace.msPerByte;
  return {
    state: {
      ...state,
      tried: state.tried + 1,
      dueMs: leftMs + state.pace.answerMs,
      wasWhole: state.wasWhole || state.at > packetsOf(state.bytes),
    },
    send: [data],
  };
}

function answered(state: Sending, said: Handshake, atMs: number): Transferred<Sending> {
  const { pace } = state;
  const isThis = said.packet === (state.at & 0x7f);
  if (said.kind === 'cancel') {
    if (state.isDoubted) return { state: ended(state, 'refused'), send: [] };
    return sent({ ...state, isDoubted: true, isHeld: false }, atMs);
  }
  const now: Sending = { ...state, isDoubted: false, isHeld: false };
  switch (said.kind) {
    case 'acknowledged':
      if (!isThis) return { state: now, send: [] };
      if (state.at > packetsOf(state.bytes)) return { state: ended(now, 'done'), send: [] };
      return sentAfter({ ...now, at: state.at + 1, tried: 0, isWaitSaid: false }, atMs);
    case 'not-acknowledged': {
      const wanted = placeOf(state, said.packet);
      if (wanted === null) return { state: now, send: [] };
      if (wanted === state.at) return sentAfter(now, atMs);
      // Asked for again after the end, the head means that the whole arrived damaged and is sent anew.
      const restarts = state.restarts + (wanted === 0 ? 1 : 0);
      if (restarts > pace.tries) return { state: ended(now, 'no-answer'), send: [] };
      return sentAfter({ ...now, at: wanted, tried: 0, isWaitSaid: false, restarts }, atMs);
    }
    case 'wait':
      return state.isWaitSaid
        ? { state: { ...now, isHeld: true, dueMs: atMs + pace.waitMs }, send: [] }
        : { state: { ...now, isWaitSaid: true, dueMs: atMs + pace.doubtMs }, send: [] };
    case 'end-of-file':
      return { state: now, send: [] };
  }
}

/** The next thing, at once or after the pause that the receiver needs. */
function sentAfter(state: Sending, atMs: number): Transferred<Sending> {
  return state.pace.gapMs > 0
    ? { state: { ...state, dueMs: atMs + state.pace.gapMs }, send: [] }
    : sent(state, atMs);
}

/** Which of the last things a number of seven bits means: this one, the one before, or the head. */
function placeOf({ at }: Sending, number: number): number | null {
  for (const place of [at, at - 1]) if (place >= 0 && number === (place & 0x7f)) return place;
  return number === 0 ? 0 : null;
}
