import { crc32, readDumpFrame, type DumpFrame } from './dumpFrame';
import type { TransferEnd, TransferEvent, Transferred } from './sending';
import { handshake, readHandshake } from './universal';

/** A dump that comes in. */
export type Receiving = {
  readonly device: number;
  /** So long nothing may come before what came is let go of, in ms. */
  readonly silenceMs: number;
  /** What the head said, `null` before it. */
  readonly head: { readonly length: number; readonly crc: number } | null;
  readonly bytes: readonly number[];
  /** The number of the packet that is next, from 1; 0 while the head is. */
  readonly next: number;
  readonly dueMs: number | null;
  /** `done` once all is there as it was sent. */
  readonly end: TransferEnd | null;
};

/** Waits for the head of a dump. */
export const startReceiving = (device: number, silenceMs = 2000): Receiving => ({
  device,
  silenceMs,
  head: null,
  bytes: [],
  next: 0,
  dueMs: null,
  end: null,
});

/** What was received, whole and as it was sent; `null` before that. */
export const received = (state: Receiving): Uint8Array | null =>
  state.end === 'done' ? Uint8Array.from(state.bytes) : null;

/**
 * The dump after an event. Each frame is answered: acknowledged, or asked for again by its number. What is damaged, comes
 * twice or out of order changes nothing of what is there.
 */
export function receiveOn(state: Receiving, event: TransferEvent): Transferred<Receiving> {
  switch (event.kind) {
    case 'tick':
      return state.dueMs !== null && event.atMs >= state.dueMs && state.end === null
        ? { state: letGo(state, 'no-answer'), send: [] }
        : { state, send: [] };
    case 'cancel':
      return state.end === null
        ? { state: letGo(state, 'cancelled'), send: [handshake('cancel', state.device, state.next)] }
        : { state, send: [] };
    case 'heard': {
      const { state: next, send } = heard(state, event.data);
      const isGoingOn = next.end === null && next.next > 0;
      return { state: { ...next, dueMs: isGoingOn ? event.atMs + state.silenceMs : null }, send };
    }
  }
}

function heard(state: Receiving, data: ArrayLike<number>): Transferred<Receiving> {
  const say = (kind: 'not-acknowledged' | 'cancel') => [handshake(kind, state.device, state.next)];
  const said = readHandshake(data);
  if (said) {
    if (said.device !== state.device) return { state, send: [] };
    if (said.kind === 'cancel' && state.end === null) return { state: letGo(state, 'refused'), send: [] };
    return said.kind === 'end-of-file' ? atEnd(state, said.packet) : { state, send: [] };
  }
  const frame = readDumpFrame(data);
  if (!frame) return { state, send: [] };
  // After an end of one's own nothing is taken; after one of the other side it may begin anew.
  const isNew = frame.ok && frame.value.kind === 'head' && state.end !== 'cancelled';
  if (state.end !== null && state.end !== 'done' && !isNew) return { state, send: say('cancel') };
  if (!frame.ok) return { state, send: state.end ? [] : say('not-acknowledged') };
  return frame.value.device === state.device ? took(state, frame.value) : { state, send: [] };
}

const letGo = (state: Receiving, end: TransferEnd): Receiving => ({
  ...state,
  head: null,
  bytes: [],
  dueMs: null,
  end,
});

function took(state: Receiving, frame: DumpFrame): Transferred<Receiving> {
  const say = (kind: 'acknowledged' | 'not-acknowledged', number: number) => [
    handshake(kind, state.device, number),
  ];
  if (frame.kind === 'head') {
    const { length, crc } = frame;
    return {
      state: { ...state, head: { length, crc }, bytes: [], next: 1, end: null },
      send: say('acknowledged', 0),
    };
  }
  if (frame.kind !== 'packet' || state.end === 'done') return { state, send: [] };
  const isNext = state.head !== null && frame.number === (state.next & 0x7f);
  if (isNext)
    return {
      state: { ...state, bytes: [...state.bytes, ...frame.bytes], next: state.next + 1 },
      send: say('acknowledged', frame.number),
    };
  // Its acknowledgement was lost: it is there already.
  const isAgain = state.next > 1 && frame.number === ((state.next - 1) & 0x7f);
  return {
    state,
    send: say(isAgain ? 'acknowledged' : 'not-acknowledged', isAgain ? frame.number : state.next),
  };
}

function atEnd(state: Receiving, number: number): Transferred<Receiving> {
  const say = (kind: 'acknowledged' | 'not-acknowledged', of: number) => [handshake(kind, state.device, of)];
  // It is over already, and this was not heard.
  if (state.end === 'done') return { state, send: say('acknowledged', number) };
  if (state.end !== null) return { state, send: [handshake('cancel', state.device, number)] };
  if (!state.head || state.bytes.length < state.head.length)
    return { state, send: say('not-acknowledged', state.next) };
  const isWhole = state.bytes.length === state.head.length && crc32(state.bytes) === state.head.crc;
  return isWhole
    ? { state: { ...state, dueMs: null, end: 'done' }, send: say('acknowledged', number) }
    : { state: { ...state, head: null, bytes: [], next: 0 }, send: say('not-acknowledged', 0) };
}
