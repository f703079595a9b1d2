import type { World, WorldBoard } from '@idle-step/core/engine';
import {
  boardDueMs,
  boardOn,
  newMemoryBoard,
  type BoardEvent,
  type BoardFaults,
  type BoardReply,
  type MemoryBoard,
} from '@idle-step/core/memory';
import { encode, msPerByte, sysex, type LinkKind, type Message } from '@idle-step/core/midi';
import {
  jobDueMs,
  jobOn,
  PLAIN_PACE,
  startJob,
  type BoardJob,
  type JobKind,
  type TransferEvent,
} from '@idle-step/core/transfer';
import { forgetStandIn, keepStandIn, keptStandIn, wasSimulated } from './keptMemoryBoard';

/** A job with a board, and whose it is. */
export type LinkRun = {
  readonly boardId: string;
  /** The preset that is sent; `null` where nothing is. */
  readonly presetId: string | null;
  readonly job: BoardJob;
};

export type LinkSnapshot = {
  readonly run: LinkRun | null;
  /** Simulated boards, by board. */
  readonly boards: ReadonlyMap<string, MemoryBoard>;
  /** What each of them sent last, the newest first. */
  readonly sent: ReadonlyMap<string, readonly Message[]>;
};

/** What a link needs of the page around it. */
export type LinkHost = {
  world(): World;
  /** Sends by a port, and writes it down. @param isTaken a simulated board takes it. */
  send(portId: string, message: Message, isTaken: boolean): void;
  /** Bytes arrive at a port as if hardware had sent them. */
  hear(portId: string, bytes: readonly number[]): void;
  /** Why nothing can be sent by this window now, or `null`. */
  refusal(): string | null;
};

/** What wakes a link, in ms from now. */
export type LinkTimer = { set(afterMs: number | null): void };

/** What a browser and its interfaces take on top of what the link takes, in ms, both ways. */
const BROWSER_MS = 30;
/** Messages of a simulated board that are kept to be shown. */
const SHOWN = 8;

/** What is on its way to a simulated board, or from it. */
type UnderWay = {
  readonly atMs: number;
  readonly boardId: string;
  readonly message: Message;
  readonly to: 'board' | 'computer';
};

/** Jobs with boards that work by themselves, over the ports of the computer, and boards that are simulated. */
export class BoardLink {
  /** Who is told once a job has ended. */
  onEnd: ((run: LinkRun) => void) | null = null;
  private run: LinkRun | null = null;
  private readonly boards = new Map<string, MemoryBoard>();
  private readonly sent = new Map<string, readonly Message[]>();
  private underWay: UnderWay[] = [];
  private readonly freeMs = new Map<string, number>();
  private readonly listeners = new Set<() => void>();
  private snapshot: LinkSnapshot = { run: null, boards: new Map(), sent: new Map() };
  private readonly timer: LinkTimer;

  constructor(
    private readonly host: LinkHost,
    timerOf: (wake: () => void) => LinkTimer,
    private readonly now: () => number = () => performance.now(),
  ) {
    this.timer = timerOf(() => this.pass());
  }

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };
  readonly getSnapshot = (): LinkSnapshot => this.snapshot;

  /** Why no job with a board can begin, in a sentence; `null` where one can. */
  cannot(boardId: string): string | null {
    const { run } = this;
    if (run && run.job.end === null)
      return run.boardId === boardId
        ? 'A transfer with this board is on its way.'
        : 'A transfer with another board is on its way; wait for it or cancel it.';
    const board = this.boardOf(boardId);
    if (!board) return 'This board is not in the rig that is played.';
    const name = board.device.name;
    if (!board.lampPortId)
      return `No cable leads from the computer to ${name}: give it an in and draw the cable in Rig.`;
    if (!board.path)
      return `No cable leads from ${name} to the computer, so it cannot answer: draw it in Rig.`;
    return this.host.refusal();
  }

  /** Begins a job. @returns why it cannot, or `null`. @param gapMs what the board needs between two packets. */
  start(
    kind: JobKind,
    boardId: string,
    sent: { presetId: string | null; bytes: Uint8Array },
    gapMs = 0,
  ): string | null {
    const why = this.cannot(boardId);
    const board = this.boardOf(boardId);
    if (why !== null || !board) return why;
    const perByte = msPerByte(this.linkOf(board));
    const pace = { ...PLAIN_PACE, msPerByte: perByte, gapMs, answerMs: PLAIN_PACE.answerMs + BROWSER_MS };
    const job = startJob(
      kind,
      { bytes: sent.bytes, controls: board.board.controls.length },
      this.now(),
      pace,
    );
    this.run = { boardId, presetId: sent.presetId, job };
    this.pass();
    return null;
  }

  cancel(): void {
    this.tell({ kind: 'cancel', atMs: this.now() });
    this.pass();
  }

  /** What was said of the last job is read. */
  setAside(): void {
    if (this.run?.job.end === null) return;
    this.run = null;
    this.changed();
  }

  /** System exclusive that arrived at a port. */
  heard(portId: string, data: ArrayLike<number>): void {
    if (!this.run || this.run.job.end !== null) return;
    if (this.boardOf(this.run.boardId)?.path?.portId !== portId) return;
    this.tell({ kind: 'heard', atMs: this.now(), data });
    this.pass();
  }

  /** Has a board simulated, or no more. */
  simulate(boardId: string, on: boolean): void {
    const board = this.boardOf(boardId);
    if (!board) return;
    this.underWay = this.underWay.filter((u) => u.boardId !== boardId);
    this.sent.delete(boardId);
    if (on) {
      const standIn = keptStandIn(newMemoryBoard(board.board, this.linkOf(board)));
      this.boards.set(boardId, standIn);
      keepStandIn(standIn);
    } else {
      this.boards.delete(boardId);
      forgetStandIn(boardId);
    }
    this.pass();
  }

  setFaults(boardId: string, faults: BoardFaults): void {
    const board = this.boards.get(boardId);
    if (board) this.boards.set(boardId, { ...board, faults });
    this.changed();
  }

  /** Something happens at a simulated board. */
  atBoard(boardId: string, event: BoardEvent): void {
    this.boardDoes(boardId, event);
    this.pass();
  }

  /** The clock that events at a simulated board come with, in ms. */
  clock(): number {
    return this.now();
  }

  /** Another rig, or the same one edited: boards that are gone are forgotten, and controls are those of now. */
  rigChanged(): void {
    for (const [id, standIn] of this.boards) {
      const board = this.boardOf(id);
      if (!board) this.boards.delete(id);
      else if (standIn.hardware !== board.board)
        this.boards.set(id, { ...standIn, hardware: board.board, link: this.linkOf(board) });
    }
    for (const { board } of this.host.world().boards)
      if (board.mode === 'standalone' && !this.boards.has(board.id) && wasSimulated(board.id))
        this.simulate(board.id, true);
    if (this.run?.job.end === null && !this.boardOf(this.run.boardId)) this.cancel();
    this.changed();
  }

  private boardOf(boardId: string): WorldBoard | undefined {
    return this.host.world().boardById.get(boardId);
  }

  /** The slower of the ways there and back. */
  private linkOf(board: WorldBoard): LinkKind {
    const there = this.host.world().ways.get(board.device.id)?.path?.link;
    return there === 'din' || board.path?.link === 'din' ? 'din' : (there ?? 'usb');
  }

  private tell(event: TransferEvent): void {
    if (!this.run || this.run.job.end !== null) return;
    const { state, send } = jobOn(this.run.job, event);
    this.run = { ...this.run, job: state };
    const portId = this.boardOf(this.run.boardId)?.lampPortId;
    for (const data of send) {
      if (!portId) break;
      const message = sysex(data);
      this.host.send(portId, message, this.boards.has(this.run.boardId));
      this.onItsWay(this.run.boardId, message, 'board', this.now());
    }
    if (state.end !== null) this.onEnd?.(this.run);
  }

  /** Behind what is on its way already, and as long as its bytes take. */
  private onItsWay(boardId: string, message: Message, to: UnderWay['to'], fromMs: number): void {
    const board = this.boards.get(boardId);
    if (!board) return;
    const key = `${to} ${boardId}`;
    const beginsMs = Math.max(fromMs, this.freeMs.get(key) ?? 0);
    const atMs = beginsMs + encode(message).length * msPerByte(board.link);
    this.freeMs.set(key, atMs);
    this.underWay = [...this.underWay, { atMs, boardId, message, to }].sort((a, b) => a.atMs - b.atMs);
  }

  private boardDoes(boardId: string, event: BoardEvent): void {
    const before = this.boards.get(boardId);
    if (!before) return;
    const { board, replies } = boardOn(before, event);
    this.boards.set(boardId, board);
    if (board.stored !== before.stored || board.power !== before.power) keepStandIn(board);
    if (event.kind === 'power') {
      this.sent.delete(boardId);
      this.underWay = this.underWay.filter((u) => u.boardId !== boardId);
    }
    this.says(boardId, replies);
  }

  private says(boardId: string, replies: readonly BoardReply[]): void {
    if (replies.length === 0) return;
    for (const { message, atMs } of replies) this.onItsWay(boardId, message, 'computer', atMs);
    // What it says of a dump is no playing.
    if (this.boards.get(boardId)?.power !== 'playing') return;
    const last = replies.map((r) => r.message).toReversed();
    this.sent.set(boardId, [...last, ...(this.sent.get(boardId) ?? [])].slice(0, SHOWN));
  }

  /** Does all whose time has come, and wishes to be woken for the next. */
  private pass(): void {
    // What one of them says may be due at once for another one.
    for (let turn = 0; turn < TURNS_AT_MOST; turn++) {
      const nowMs = this.now();
      const first = this.underWay[0];
      if (first && first.atMs <= nowMs) {
        this.underWay = this.underWay.slice(1);
        this.arrives(first, nowMs);
      } else if (this.run && (jobDueMs(this.run.job) ?? Infinity) <= nowMs)
        this.tell({ kind: 'tick', atMs: nowMs });
      else {
        const due = [...this.boards].find(([, b]) => (boardDueMs(b) ?? Infinity) <= nowMs);
        if (!due) break;
        this.boardDoes(due[0], { kind: 'tick', atMs: nowMs });
      }
    }
    const dues = [
      this.underWay[0]?.atMs,
      this.run ? jobDueMs(this.run.job) : null,
      ...[...this.boards.values()].map(boardDueMs),
    ].flatMap((due) => due ?? []);
    this.timer.set(dues.length === 0 ? null : Math.max(0, Math.min(...dues) - this.now()));
    this.changed();
  }

  private arrives({ to, boardId, message }: UnderWay, atMs: number): void {
    if (to === 'board') {
      this.boardDoes(boardId, { kind: 'message', atMs, message });
      return;
    }
    const portId = this.boardOf(boardId)?.path?.portId;
    if (portId !== undefined) this.host.hear(portId, encode(message));
  }

  private changed(): void {
    this.snapshot = { run: this.run, boards: new Map(this.boards), sent: new Map(this.sent) };
    for (const listener of this.listeners) listener();
  }
}

/** What falls due at one moment, at the most: a board that never came to rest would hold the page. */
const TURNS_AT_MOST = 1000;
