import { sysex } from '../midi';
import { jobDueMs, jobOn, type BoardJob, type TransferEvent } from '../transfer';
import { boardDueMs, boardOn, type BoardEvent, type MemoryBoard } from './memoryBoard';

/** 31,250 baud, ten bits a byte. Source: MIDI 1.0 Detailed Specification, hardware. */
const MS_PER_BYTE = 0.32;

/** What happens from outside while a job runs. */
export type Happening = { readonly atMs: number; readonly what: 'cancel' | BoardEvent };

/** A job and a board at the two ends of two DIN cables, until the job has ended and nothing is under way. */
export function overLink(
  first: BoardJob,
  start: MemoryBoard,
  fromMs = first.beganMs,
  happenings: readonly Happening[] = [],
): { job: BoardJob; board: MemoryBoard; tookMs: number; sentBytes: number; atMs: number } {
  let job = first;
  let board = start;
  let nowMs = fromMs;
  let endedMs: number | null = null;
  let sentBytes = 0;
  const left = [...happenings];
  const freeMs = { job: 0, board: 0 };
  const queue: { atMs: number; to: 'job' | 'board'; data: readonly number[] }[] = [];
  const put = (to: 'job' | 'board', data: readonly number[], fromMsOf: number) => {
    const begins = Math.max(fromMsOf, freeMs[to]);
    freeMs[to] = begins + (data.length + 2) * MS_PER_BYTE;
    if (to === 'board') sentBytes += data.length + 2;
    queue.push({ atMs: freeMs[to], to, data });
    queue.sort((a, b) => a.atMs - b.atMs);
  };
  const tellJob = (event: TransferEvent) => {
    const { state, send } = jobOn(job, event);
    job = state;
    if (job.end !== null) endedMs ??= nowMs;
    for (const data of send) put('board', data, nowMs);
  };
  const tellBoard = (event: BoardEvent) => {
    const done = boardOn(board, event);
    board = done.board;
    for (const { message, atMs } of done.replies)
      if (message.kind === 'sysex') put('job', Array.from(message.data), atMs);
  };
  for (let turns = 0; turns < 100_000; turns++) {
    const dues = [
      queue[0]?.atMs,
      jobDueMs(job),
      job.end === null ? boardDueMs(board) : null,
      job.end === null ? left[0]?.atMs : null,
    ].map((due) => due ?? Infinity);
    const dueMs = Math.min(...dues);
    if (dueMs === Infinity) break;
    nowMs = Math.max(nowMs, dueMs);
    const which = dues.indexOf(dueMs);
    if (which === 0) {
      const { to, data } = queue.shift()!;
      if (to === 'job') tellJob({ kind: 'heard', atMs: nowMs, data });
      else tellBoard({ kind: 'message', atMs: nowMs, message: sysex(data) });
    } else if (which === 1) tellJob({ kind: 'tick', atMs: nowMs });
    else if (which === 2) tellBoard({ kind: 'tick', atMs: nowMs });
    else {
      const { what } = left.shift()!;
      if (what === 'cancel') tellJob({ kind: 'cancel', atMs: nowMs });
      else tellBoard(what);
    }
  }
  return { job, board, tookMs: (endedMs ?? nowMs) - fromMs, sentBytes, atMs: nowMs };
}
