import { crc32, mayHaveArrived, stageOf, type BoardJob } from '../transfer';

/** What is in a memory, as this application last knew. */
export type InMemory = {
  /** The preset that it was made of; `null` where it was read from the board and is none that was sent. */
  readonly presetId: string | null;
  readonly bytes: Uint8Array;
  /** When it came there, or was found there, in ms of the day's clock. */
  readonly atMs: number;
};

/** What a board holds: `null` is nothing that is known of, `unknown` what nobody can tell without looking. */
export type BoardRecord = {
  /** What it plays by until it is switched off. */
  readonly sent: InMemory | 'unknown' | null;
  /** What it keeps. */
  readonly stored: InMemory | 'unknown' | null;
};

export const NO_RECORD: BoardRecord = { sent: null, stored: null };

/**
 * What is known of a board after a job with it has ended.
 * @param presetId that of what was sent. @param atMs the day's clock.
 */
export function recordAfter(
  before: BoardRecord,
  job: BoardJob,
  presetId: string | null,
  atMs: number,
): BoardRecord {
  const known = [before.sent, before.stored];
  const as = (bytes: Uint8Array, of: string | null = null): InMemory =>
    withCrc(known, crc32(bytes)) ?? { presetId: of, bytes, atMs };
  switch (job.kind) {
    case 'send':
      if (job.end === 'done') return { ...before, sent: { presetId, bytes: job.bytes, atMs } };
      if (job.held)
        return {
          ...before,
          sent: heldAs(before.sent, job.held.working, [...known, as(job.bytes, presetId)]),
        };
      // Nothing changes before the whole is there: only then can it have arrived.
      return mayHaveArrived(job) ? { ...before, sent: 'unknown' } : before;
    case 'look':
    case 'read': {
      if (!job.held) return before;
      const read = job.read ? as(job.read) : null;
      const all = [...known, read];
      return {
        sent: heldAs(before.sent, job.held.working, all),
        stored: heldAs(before.stored, job.held.stored, all),
      };
    }
    case 'store':
      if (job.held) {
        const stored = heldAs(before.stored, job.held.stored, known);
        const isNew = stored !== null && stored !== 'unknown' && stored === before.sent;
        return {
          sent: heldAs(before.sent, job.held.working, known),
          stored: isNew ? { ...stored, atMs } : stored,
        };
      }
      return job.identity !== null && stageOf(job) !== 'identity' ? { ...before, stored: 'unknown' } : before;
  }
}

const withCrc = (known: readonly BoardRecord['sent'][], crc: number): InMemory | undefined =>
  known.find((k): k is InMemory => k !== null && k !== 'unknown' && crc32(k.bytes) === crc);

/** What a board said that it holds, among what is known. */
function heldAs(
  before: BoardRecord['sent'],
  crc: number | null,
  known: readonly BoardRecord['sent'][],
): BoardRecord['sent'] {
  if (crc === null) return null;
  return withCrc([before], crc) ?? withCrc(known, crc) ?? 'unknown';
}
