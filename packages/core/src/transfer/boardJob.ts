import { crc32, dumpFrame, readDumpFrame, type Held } from './dumpFrame';
import { received, receiveOn, startReceiving, type Receiving } from './receiving';
import {
  PLAIN_PACE,
  progressOf,
  sendOn,
  startSending,
  type Pace,
  type Sending,
  type TransferEvent,
  type Transferred,
} from './sending';
import { ALL_DEVICES, identityRequest, readHandshake, readIdentityReply, type Identity } from './universal';

/** What is done with the memory of a board: looked at, written and read back, read, or stored. */
export type JobKind = 'look' | 'send' | 'read' | 'store';

/** Who a board with a memory of this format says it is: maker `7D`, this family, as many controls as its member says. */
export const BOARD_FAMILY = 0x0953;
const NON_COMMERCIAL = 0x7d;

export type JobEnd =
  | 'done'
  | 'cancelled'
  /** The board broke it off. */
  | 'refused'
  | 'no-answer'
  /** Something answered, and it is no board with a memory of this format. */
  | 'other-device'
  /** The board has another number of controls than what is sent was made for. */
  | 'other-controls'
  /** What was read back is not what was sent, or what is stored is not what was to be. */
  | 'differs'
  /** There is nothing in the memory that could be read or stored. */
  | 'empty';

/** What is on at this moment. */
export type JobStage = 'identity' | 'state' | 'sending' | 'reading' | 'storing';

const STAGES: Record<JobKind, readonly JobStage[]> = {
  look: ['identity', 'state'],
  send: ['identity', 'sending', 'state', 'reading'],
  read: ['identity', 'state', 'reading'],
  store: ['identity', 'storing', 'state'],
};

/** A job with a board on the other end of two cables. Plain data. */
export type BoardJob = {
  readonly kind: JobKind;
  readonly pace: Pace;
  /** What is sent, or what is meant to be stored. */
  readonly bytes: Uint8Array;
  /** How many controls the board has to have. */
  readonly controls: number;
  /** Its place among the stages of its kind. */
  readonly at: number;
  /** A question that waits for its answer. */
  readonly asked: { readonly data: readonly number[]; readonly tried: number; readonly dueMs: number } | null;
  readonly sending: Sending | null;
  readonly receiving: Receiving | null;
  readonly identity: Identity | null;
  /** What boards said of themselves, as text: what is said once may be damage. */
  readonly said: readonly string[];
  /** What the board said last that it holds. */
  readonly held: Held | null;
  readonly read: Uint8Array | null;
  readonly beganMs: number;
  readonly end: JobEnd | null;
};

/** How long a board may take to answer a question, in ms, beside the time of its bytes. */
const ANSWER_MS = 250;
/** How often a question is asked. */
const TRIES = 6;

/**
 * A job that begins: the board is asked who it is at its first tick.
 * @param bytes what is sent or to be stored; empty to look and to read. @param controls as many as the board has.
 */
export const startJob = (
  kind: JobKind,
  { bytes, controls }: Pick<BoardJob, 'bytes' | 'controls'>,
  atMs: number,
  pace: Pace = PLAIN_PACE,
): BoardJob => ({
  kind,
  pace,
  bytes,
  controls,
  at: 0,
  asked: { data: identityRequest(ALL_DEVICES), tried: 0, dueMs: atMs },
  sending: null,
  receiving: null,
  identity: null,
  said: [],
  held: null,
  read: null,
  beganMs: atMs,
  end: null,
});

export const stageOf = ({ kind, at }: Pick<BoardJob, 'kind' | 'at'>): JobStage | null =>
  STAGES[kind][at] ?? null;

/** Whether all that is sent may have arrived, whatever the board said of it. */
export const mayHaveArrived = ({ kind, at, sending }: BoardJob): boolean =>
  kind === 'send' && (at > STAGES.send.indexOf('sending') || (sending?.wasWhole ?? false));

/** When the job wants to be woken, in ms, or `null`. */
export function jobDueMs({ asked, sending, receiving, end }: BoardJob): number | null {
  if (end !== null) return null;
  const dues = [asked?.dueMs, sending?.dueMs, receiving?.dueMs].flatMap((due) => due ?? []);
  return dues.length > 0 ? Math.min(...dues) : null;
}

/** How far a job is, 0–1, and how long it takes yet, in ms; `null` where that cannot be told. */
export function jobProgress(
  job: BoardJob,
  atMs: number,
): { readonly share: number; readonly leftMs: number | null } {
  if (job.end === 'done') return { share: 1, leftMs: 0 };
  const { sending, receiving } = job;
  const readMs = (length: number) => length * (8 / 7) * 1.1 * job.pace.msPerByte;
  // Written once and read back once: each is half of it.
  if (sending) {
    const { share, leftMs } = progressOf(sending, atMs);
    return job.kind === 'send'
      ? { share: share / 2, leftMs: leftMs + readMs(job.bytes.length) }
      : { share, leftMs };
  }
  if (receiving?.head) {
    const { length } = receiving.head;
    const share = length === 0 ? 1 : Math.min(1, receiving.bytes.length / length);
    return {
      share: job.kind === 'send' ? 0.5 + share / 2 : share,
      leftMs: readMs(length - receiving.bytes.length),
    };
  }
  // All is written, and is yet to be read back.
  return { share: job.kind === 'send' && job.at > STAGES.send.indexOf('sending') ? 0.5 : 0, leftMs: null };
}

/** The job after an event. Nothing happens any more once it has ended. */
export function jobOn(job: BoardJob, event: TransferEvent): Transferred<BoardJob> {
  if (job.end !== null) return { state: job, send: [] };
  if (job.sending) return sendingOn(job, job.sending, event);
  switch (event.kind) {
    case 'cancel': {
      const said = job.receiving ? receiveOn(job.receiving, event).send : [];
      return { state: ended(job, 'cancelled'), send: said };
    }
    case 'tick': {
      const asking = askAgain(job, event.atMs);
      return asking.state.end === null && job.receiving ? receivingOn(asking, event) : asking;
    }
    case 'heard':
      return job.receiving ? receivingOn({ state: job, send: [] }, event) : answered(job, event);
  }
}

/** Whether somebody who answers is a board with a memory of this format. */
const isBoardOf = ({ manufacturer, family }: Identity): boolean =>
  manufacturer[0] === NON_COMMERCIAL && family === BOARD_FAMILY;

const ended = (job: BoardJob, end: JobEnd): BoardJob => ({ ...job, asked: null, end });

/** What was asked and not answered in time is asked again. */
function askAgain(job: BoardJob, atMs: number): Transferred<BoardJob> {
  const { asked, pace } = job;
  if (!asked || atMs < asked.dueMs) return { state: job, send: [] };
  if (asked.tried >= TRIES) {
    const isOther = stageOf(job) === 'identity' && job.identity !== null && !isBoardOf(job.identity);
    return { state: ended(job, isOther ? 'other-device' : 'no-answer'), send: [] };
  }
  const dueMs = atMs + (asked.data.length + 2) * pace.msPerByte + ANSWER_MS;
  return { state: { ...job, asked: { ...asked, tried: asked.tried + 1, dueMs } }, send: [asked.data] };
}

type Heard = TransferEvent & { readonly kind: 'heard' };

function answered(job: BoardJob, { data, atMs }: Heard): Transferred<BoardJob> {
  const nothing = { state: job, send: [] };
  if (stageOf(job) === 'identity') {
    const identity = readIdentityReply(data);
    if (!identity) return nothing;
    // Others behind the same cable answer as well: one that is no board is only told where none is.
    if (!isBoardOf(identity)) return { state: { ...job, identity: job.identity ?? identity }, send: [] };
    // A reply has no check of its own: what is said once may be damage, and counts when it is said again.
    const text = JSON.stringify(identity);
    if (!job.said.includes(text)) {
      const doubted = { ...job, identity, said: [...job.said, text] };
      return askAgain({ ...doubted, asked: job.asked && { ...job.asked, dueMs: atMs } }, atMs);
    }
    return identity.member === job.controls
      ? next({ ...job, identity }, atMs)
      : { state: ended({ ...job, identity }, 'other-controls'), send: [] };
  }
  const device = job.identity?.device;
  if (stageOf(job) === 'state') {
    const frame = readDumpFrame(data);
    if (!frame?.ok || frame.value.kind !== 'state' || frame.value.device !== device) return nothing;
    const { working, stored } = frame.value;
    return next({ ...job, held: { working, stored } }, atMs);
  }
  const said = readHandshake(data);
  return stageOf(job) === 'storing' && said?.kind === 'acknowledged' && said.device === device
    ? next(job, atMs)
    : nothing;
}

/** The next stage of a job, or its end. */
function next(job: BoardJob, atMs: number): Transferred<BoardJob> {
  const isWrong = stageOf(job) === 'state' ? wrongState(job) : null;
  if (isWrong) return { state: ended(job, isWrong), send: [] };
  return begun({ ...job, at: job.at + 1, asked: null, sending: null, receiving: null }, atMs);
}

/** What the board holds, held against what it should. */
function wrongState({ kind, held, bytes }: BoardJob): JobEnd | null {
  if (!held) return null;
  const wanted = crc32(bytes);
  switch (kind) {
    case 'look':
      return null;
    case 'read':
      return held.working === null ? 'empty' : null;
    case 'send':
      return held.working === wanted ? null : 'differs';
    case 'store':
      return held.stored === null ? 'empty' : held.stored === wanted ? null : 'differs';
  }
}

function begun(job: BoardJob, atMs: number): Transferred<BoardJob> {
  const device = job.identity?.device ?? 0;
  const asking = (kind: 'ask-state' | 'request' | 'store', more: Partial<BoardJob> = {}) =>
    askAgain({ ...job, ...more, asked: { data: dumpFrame({ kind, device }), tried: 0, dueMs: atMs } }, atMs);
  switch (stageOf(job)) {
    case 'sending': {
      const { state, send } = sendOn(startSending(device, job.bytes, atMs, job.pace), { kind: 'tick', atMs });
      return { state: { ...job, sending: state }, send };
    }
    case 'reading':
      return asking('request', { receiving: startReceiving(device) });
    case 'storing':
      return asking('store');
    case 'state':
      return asking('ask-state');
    default:
      return { state: ended(job, 'done'), send: [] };
  }
}

function sendingOn(job: BoardJob, sending: Sending, event: TransferEvent): Transferred<BoardJob> {
  const { state, send } = sendOn(sending, event);
  if (state.end === 'done') return next({ ...job, sending: state }, event.atMs);
  const after = { ...job, sending: state };
  return { state: state.end === null ? after : ended(after, state.end), send };
}

function receivingOn(before: Transferred<BoardJob>, event: TransferEvent): Transferred<BoardJob> {
  const job = before.state;
  if (!job.receiving) return before;
  const { state, send } = receiveOn(job.receiving, event);
  const all = [...before.send, ...send];
  // Once the head is there, silence is waited for and the question is not asked again.
  const after = { ...job, receiving: state, asked: state.next > 0 ? null : job.asked };
  const read = received(state);
  if (read) {
    const isSame = job.kind !== 'send' || isEqual(read, job.bytes);
    return { state: ended({ ...after, read }, isSame ? 'done' : 'differs'), send: all };
  }
  if (state.end !== null && state.end !== 'done') return { state: ended(after, state.end), send: all };
  if (after.asked === null && state.next === 0) return restart(after, all, event.atMs);
  return { state: after, send: all };
}

/** What came was damaged as a whole: it is asked for anew. */
function restart(job: BoardJob, send: readonly (readonly number[])[], atMs: number): Transferred<BoardJob> {
  const asked = {
    data: dumpFrame({ kind: 'request', device: job.identity?.device ?? 0 }),
    tried: 1,
    dueMs: atMs + 2 * ANSWER_MS,
  };
  return { state: { ...job, asked }, send };
}

const isEqual = (a: Uint8Array, b: Uint8Array): boolean =>
  a.length === b.length && a.every((byte, i) => byte === b[i]);
