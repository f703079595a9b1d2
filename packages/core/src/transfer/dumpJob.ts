import { nth } from '../sure';

/** What a transfer of any system exclusive goes through: it is listened for, asked for, or sent. */
export type DumpJob = {
  readonly kind: 'receive' | 'ask' | 'send';
  /** What is sent, message by message: data between `F0` and `F7`. */
  readonly messages: readonly (readonly number[])[];
  /** How many of them have been sent. */
  readonly sent: number;
  /** What came, message by message, in the same way. */
  readonly came: readonly ArrayLike<number>[];
  /** How many bytes that is, with `F0` and `F7`. */
  readonly size: number;
  readonly pace: DumpPace;
  readonly dueMs: number | null;
  readonly end: 'done' | 'no-answer' | 'cancelled' | 'too-large' | 'port-gone' | null;
};

export type DumpPace = {
  readonly msPerByte: number;
  /** What a slow receiver needs between two messages, in ms. */
  readonly gapMs: number;
};

/** A device that says nothing for so long after it was asked does not answer, in ms. */
const ANSWER_MS = 3000;
/** A dump is over once nothing came for so long, in ms. */
const SILENCE_MS = 1000;
/** More than this is not kept as one dump, in bytes. */
export const DUMP_LIMIT = 2_000_000;

const job = (
  kind: DumpJob['kind'],
  messages: DumpJob['messages'],
  pace: DumpPace,
  dueMs: number | null,
): DumpJob => ({
  kind,
  messages,
  sent: 0,
  came: [],
  size: 0,
  pace,
  dueMs,
  end: null,
});

/** Listens for whatever comes, until it is ended. */
export const startListening = (pace: DumpPace): DumpJob => job('receive', [], pace, null);
/** Sends a request, and takes what comes until it is silent. */
export const startAsking = (request: DumpJob['messages'], atMs: number, pace: DumpPace): DumpJob =>
  job('ask', request, pace, atMs);
/** Sends messages one after the other, each in its time. */
export const startDump = (messages: DumpJob['messages'], atMs: number, pace: DumpPace): DumpJob =>
  job('send', messages, pace, atMs);

export type DumpEvent =
  | { readonly kind: 'tick'; readonly atMs: number }
  /** System exclusive, without `F0` and `F7`. */
  | { readonly kind: 'heard'; readonly atMs: number; readonly data: ArrayLike<number> }
  /** Keeps what came until now, or breaks it off. */
  | { readonly kind: 'stop'; readonly atMs: number }
  | { readonly kind: 'cancel'; readonly atMs: number }
  /** Nothing takes what is sent, or what was asked went away: what came may be a part, and is not kept. */
  | { readonly kind: 'port-gone'; readonly atMs: number };

/** The job after an event, and what it sends: data between `F0` and `F7`. */
export function dumpOn(
  state: DumpJob,
  event: DumpEvent,
): { readonly state: DumpJob; readonly send: readonly (readonly number[])[] } {
  if (state.end !== null) return { state, send: [] };
  switch (event.kind) {
    case 'cancel':
      return { state: ended(state, 'cancelled'), send: [] };
    case 'port-gone':
      // What is listened to is ended by whoever listens; it may have come whole before.
      return { state: state.kind === 'receive' ? state : ended(state, 'port-gone'), send: [] };
    case 'stop':
      return {
        state: ended(state, state.came.length > 0 || state.kind === 'send' ? 'done' : 'no-answer'),
        send: [],
      };
    case 'heard':
      return { state: state.kind === 'send' ? state : heard(state, event.data, event.atMs), send: [] };
    case 'tick':
      return state.dueMs === null || event.atMs < state.dueMs
        ? { state, send: [] }
        : ticked(state, event.atMs);
  }
}

/** All that came, with `F0` and `F7`. */
export function dumpBytes({ came, size }: DumpJob): Uint8Array {
  const bytes = new Uint8Array(size);
  let at = 0;
  for (const data of came) {
    bytes[at] = 0xf0;
    bytes.set(Array.from(data), at + 1);
    bytes[at + data.length + 1] = 0xf7;
    at += data.length + 2;
  }
  return bytes;
}

/** How far it is, 0–1; `null` where that cannot be told. */
export const dumpShare = ({ kind, sent, messages }: DumpJob): number | null =>
  kind === 'send' ? (messages.length === 0 ? 1 : sent / messages.length) : null;

const ended = (state: DumpJob, end: DumpJob['end']): DumpJob => ({ ...state, dueMs: null, end });

function heard(state: DumpJob, data: ArrayLike<number>, atMs: number): DumpJob {
  const size = state.size + data.length + 2;
  if (size > DUMP_LIMIT) return ended(state, 'too-large');
  // What is asked for is over by itself; what is listened for is ended by whoever listens.
  const dueMs = state.kind === 'ask' ? atMs + SILENCE_MS : null;
  return { ...state, came: [...state.came, data], size, dueMs };
}

function ticked(state: DumpJob, atMs: number): ReturnType<typeof dumpOn> {
  const { messages, sent, pace, kind } = state;
  if (sent < messages.length) {
    const data = nth(messages, sent);
    const wireMs = (data.length + 2) * pace.msPerByte;
    const isLast = sent + 1 === messages.length;
    const dueMs = atMs + wireMs + (isLast && kind === 'ask' ? ANSWER_MS : pace.gapMs);
    return { state: { ...state, sent: sent + 1, dueMs }, send: [data] };
  }
  return { state: ended(state, kind === 'ask' && state.came.length === 0 ? 'no-answer' : 'done'), send: [] };
}

/** The system exclusive in raw bytes, as data between `F0` and `F7`; or the place where it is none. */
export function sysexIn(bytes: ArrayLike<number>): {
  readonly messages: number[][];
  readonly error: string | null;
} {
  const messages: number[][] = [];
  let open: number[] | null = null;
  for (let i = 0; i < bytes.length; i++) {
    const byte = nth(bytes, i);
    const refuse = (what: string) => ({ messages: [], error: `Byte ${i + 1}: ${what}` });
    if (byte === 0xf0) {
      if (open) return refuse('a new F0 stands in the middle of a message; F7 is missing before it.');
      open = [];
    } else if (byte === 0xf7) {
      if (!open) return refuse('F7 ends nothing.');
      messages.push(open);
      open = null;
    } else if (byte > 0x7f)
      return refuse(`${byte.toString(16).toUpperCase()} cannot stand inside system exclusive.`);
    else if (!open) return refuse('it stands outside of F0 and F7.');
    else open.push(byte);
  }
  if (open)
    return { messages: [], error: `Byte ${bytes.length}: the last message is cut off; F7 is missing.` };
  return messages.length === 0
    ? { messages, error: 'There is no system exclusive in it.' }
    : { messages, error: null };
}

/** A line of two dumps side by side: sixteen bytes of each at the most, and which of them differ. */
export type DumpLine = {
  /** From 0. */
  readonly at: number;
  readonly first: readonly number[];
  readonly second: readonly number[];
  readonly differing: readonly number[];
};

const WIDE = 16;

/** The lines of two dumps in which they differ, and how many bytes do. */
export function dumpDifferences(
  first: ArrayLike<number>,
  second: ArrayLike<number>,
): { readonly lines: readonly DumpLine[]; readonly count: number } {
  const lines: DumpLine[] = [];
  let count = 0;
  const length = Math.max(first.length, second.length);
  for (let at = 0; at < length; at += WIDE) {
    const [a, b] = [first, second].map((d) =>
      Array.from({ length: Math.max(0, Math.min(WIDE, d.length - at)) }, (_, i) => nth(d, at + i)),
    );
    if (!a || !b) continue;
    const differing = Array.from({ length: Math.max(a.length, b.length) }, (_, i) => i).filter(
      (i) => a[i] !== b[i],
    );
    count += differing.length;
    if (differing.length > 0) lines.push({ at, first: a, second: b, differing });
  }
  return { lines, count };
}
