import {
  compileWorld,
  initialState,
  step,
  type Command,
  type Effect,
  type LiveState,
  type World,
} from '../engine';
import { isPressed, type Board } from '../floor';
import { sysex, type LinkKind, type Message } from '../midi';
import {
  BOARD_FAMILY,
  crc32,
  dumpFrame,
  handshake,
  identityReply,
  readDumpFrame,
  readHandshake,
  readIdentityRequest,
  received,
  receiveOn,
  sendOn,
  startReceiving,
  startSending,
  ALL_DEVICES,
  type Receiving,
  type Sending,
} from '../transfer';
import { readMemory } from './boardMemory';
import { memoryShow } from './memoryShow';

/** What goes wrong on the way to a board and back, for trying it: shares of 0–1, and how long it thinks, in ms. */
export type BoardFaults = { readonly lost: number; readonly damaged: number; readonly slowMs: number };
export const NO_FAULTS: BoardFaults = { lost: 0, damaged: 0, slowMs: 0 };

/**
 * A board with a memory, simulated. It plays by what stands in its working memory, takes a dump only when it was switched
 * on with the keys of its receive mode held, and forgets at power-off what was not stored.
 */
export type MemoryBoard = {
  readonly hardware: Board;
  /** That of its in and out. */
  readonly link: LinkKind;
  /** Its device number, 0–126. */
  readonly device: number;
  readonly power: 'off' | 'playing' | 'receiving';
  readonly working: Uint8Array | null;
  readonly stored: Uint8Array | null;
  readonly faults: BoardFaults;
  /** For its faults. */
  readonly seed: number;
  readonly receiving: Receiving;
  readonly sending: Sending | null;
  readonly play: {
    readonly world: World;
    readonly state: LiveState;
    readonly wakeMs: number | null;
  } | null;
};

export type BoardEvent =
  /** @param held the controls that are down meanwhile. */
  | { readonly kind: 'power'; readonly atMs: number; readonly on: boolean; readonly held: readonly string[] }
  | { readonly kind: 'tick'; readonly atMs: number }
  /** A message arrives at its in. */
  | { readonly kind: 'message'; readonly atMs: number; readonly message: Message }
  /** A foot does something. */
  | {
      readonly kind: 'foot';
      readonly atMs: number;
      readonly command: Command & { kind: 'switch' | 'move' | 'turn' };
    };

/** What leaves by its out, and when, in ms. */
export type BoardReply = { readonly message: Message; readonly atMs: number };

export const newMemoryBoard = (hardware: Board, link: LinkKind, device = 1): MemoryBoard => ({
  hardware,
  link,
  device,
  power: 'off',
  working: null,
  stored: null,
  faults: NO_FAULTS,
  seed: 1,
  receiving: startReceiving(device),
  sending: null,
  play: null,
});

/** The keys that are held while it is switched on, so that it takes a dump: its first two switches. */
export const receiveKeys = ({ controls }: Pick<Board, 'controls'>): readonly Board['controls'][number][] =>
  controls.filter((c) => isPressed(c.kind)).slice(0, 2);

/** The board after an event, and what it says. */
export function boardOn(
  board: MemoryBoard,
  event: BoardEvent,
): { readonly board: MemoryBoard; readonly replies: readonly BoardReply[] } {
  switch (event.kind) {
    case 'power':
      return {
        board: event.on ? switchedOn(board, event.held, event.atMs) : switchedOff(board),
        replies: [],
      };
    case 'foot':
      return played(board, event);
    case 'tick':
      return board.power === 'receiving' ? ticked(board, event.atMs) : played(board, event);
    case 'message':
      return board.power === 'receiving' && event.message.kind === 'sysex'
        ? heard(board, Array.from(event.message.data), event.atMs)
        : { board, replies: [] };
  }
}

/** When it wants to be woken, in ms, or `null`. */
export function boardDueMs({ power, sending, receiving, play }: MemoryBoard): number | null {
  if (power === 'off') return null;
  if (power === 'playing') return play?.wakeMs ?? null;
  const dues = [sending?.dueMs, receiving.dueMs].flatMap((due) => due ?? []);
  return dues.length > 0 ? Math.min(...dues) : null;
}

function switchedOff(board: MemoryBoard): MemoryBoard {
  const { device } = board;
  return {
    ...board,
    power: 'off',
    working: board.stored,
    receiving: startReceiving(device),
    sending: null,
    play: null,
  };
}

function switchedOn(board: MemoryBoard, held: readonly string[], atMs: number): MemoryBoard {
  if (board.power !== 'off') return board;
  const keys = receiveKeys(board.hardware);
  if (keys.length > 0 && keys.every((k) => held.includes(k.id))) return { ...board, power: 'receiving' };
  const memory = board.working ? readMemory(board.working) : null;
  if (!memory?.ok) return { ...board, power: 'playing' };
  const world = compileWorld(memoryShow(memory.value, board.hardware, board.link));
  return { ...board, power: 'playing', play: { world, state: initialState(world, atMs), wakeMs: null } };
}

function played(
  board: MemoryBoard,
  event: BoardEvent & { kind: 'foot' | 'tick' },
): { board: MemoryBoard; replies: BoardReply[] } {
  if (!board.play) return { board, replies: [] };
  const { world, state } = board.play;
  const { atMs } = event;
  const done = step(
    world,
    state,
    event.kind === 'tick' ? { kind: 'tick', atMs } : { kind: 'command', atMs, command: event.command },
  );
  const replies = done.effects.flatMap((e: Effect) =>
    e.kind === 'send' ? { message: e.message, atMs: e.atMs } : [],
  );
  const wake = done.effects.find((e) => e.kind === 'wake');
  const play = { world, state: done.state, wakeMs: wake?.kind === 'wake' ? wake.atMs : null };
  return { board: { ...board, play }, replies };
}

function ticked(board: MemoryBoard, atMs: number) {
  const event = { kind: 'tick', atMs } as const;
  const { state: receiving } = receiveOn(board.receiving, event);
  if (!board.sending) return { board: { ...board, receiving }, replies: [] };
  const { state, send } = sendOn(board.sending, event);
  return says({ ...board, receiving, sending: state.end === null ? state : null }, send, atMs);
}

function heard(before: MemoryBoard, arrived: readonly number[], atMs: number) {
  const { board, data } = onTheWay(before, arrived);
  if (!data) return { board, replies: [] };
  const asked = readIdentityRequest(data);
  if (asked === ALL_DEVICES || asked === board.device) return says(board, [identityOf(board)], atMs);
  const said = readHandshake(data);
  if (said?.device === board.device && board.sending && said.kind !== 'end-of-file') {
    const { state, send } = sendOn(board.sending, { kind: 'heard', atMs, data });
    return says({ ...board, sending: state.end === null ? state : null }, send, atMs);
  }
  const frame = readDumpFrame(data);
  if (frame?.ok && frame.value.device === board.device) {
    const { device, working, stored } = board;
    const crc = (bytes: Uint8Array | null) => bytes && crc32(bytes);
    switch (frame.value.kind) {
      case 'ask-state':
        return says(
          board,
          [dumpFrame({ kind: 'state', device, working: crc(working), stored: crc(stored) })],
          atMs,
        );
      case 'store':
        return says({ ...board, stored: working }, [handshake('acknowledged', device, 0)], atMs);
      case 'request': {
        if (!working) return says(board, [handshake('cancel', device, 0)], atMs);
        if (board.sending?.at === 0) return { board, replies: [] };
        const { state, send } = sendOn(startSending(device, working, atMs), { kind: 'tick', atMs });
        return says({ ...board, sending: state }, send, atMs);
      }
      default:
        break;
    }
  }
  return tookIn({ ...board, sending: frame ? null : board.sending }, data, atMs);
}

/** What comes of a dump is kept once it is whole and can be read. */
function tookIn(board: MemoryBoard, data: readonly number[], atMs: number) {
  const { state, send } = receiveOn(board.receiving, { kind: 'heard', atMs, data });
  const bytes = state.end === 'done' && board.receiving.end !== 'done' ? received(state) : null;
  const isReadable = bytes !== null && readMemory(bytes).ok;
  return says({ ...board, receiving: state, working: isReadable ? bytes : board.working }, send, atMs);
}

const identityOf = ({ device, hardware }: MemoryBoard): number[] =>
  identityReply({
    device,
    manufacturer: [0x7d],
    family: BOARD_FAMILY,
    member: hardware.controls.length,
    version: [0, 0, 0, 1],
  });

/** What a board says leaves by its out, each as its faults have it. */
function says(board: MemoryBoard, send: readonly (readonly number[])[], atMs: number) {
  let now = board;
  const replies: BoardReply[] = [];
  const { slowMs } = board.faults;
  for (const said of send) {
    const { board: after, data } = onTheWay(now, said);
    now = after;
    if (data) replies.push({ message: sysex(data), atMs: atMs + slowMs });
  }
  // A slow one says at once that it is to be waited for.
  const waits = slowMs > WAITS_FROM_MS && send.some((data) => readHandshake(data)?.kind === 'acknowledged');
  const wait: BoardReply[] = waits ? [{ message: sysex(handshake('wait', board.device, 0)), atMs }] : [];
  return { board: now, replies: [...wait, ...replies] };
}

const WAITS_FROM_MS = 10;

/** Data on a cable with faults: as it was, damaged, or lost (`null`). */
function onTheWay(
  board: MemoryBoard,
  data: readonly number[],
): { board: MemoryBoard; data: readonly number[] | null } {
  const { lost, damaged } = board.faults;
  if (lost === 0 && damaged === 0) return { board, data };
  const after = { ...board, seed: board.seed + 4 };
  const at = (i: number) => scattered(board.seed + i);
  if (at(0) < lost) return { board: after, data: null };
  if (at(1) >= damaged) return { board: after, data };
  const place = Math.floor(at(2) * data.length);
  const by = 1 + Math.floor(at(3) * 127);
  return { board: after, data: data.map((d, i) => (i === place ? d ^ by : d)) };
}

/** A number of 0 to below 1 that says nothing of the one before. Source: the finaliser of MurmurHash3 (from memory). */
function scattered(seed: number): number {
  let h = Math.imul(seed ^ (seed >>> 16), 0x85ebca6b);
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35);
  return ((h ^ (h >>> 16)) >>> 0) / 2 ** 32;
}
