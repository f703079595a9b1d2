import type { GearRecord, RecordOf } from '@idle-step/contract';
import { NO_RECORD, recordAfter, type BoardRecord, type InMemory } from '@idle-step/core/memory';
import { fromBase64, toBase64 } from '../files/base64';
import type { LiveHost } from '../live/LiveHost';
import type { RecordKeeper } from './recordKeeper';

type Kept = RecordOf<'board'>['what']['sent'];

const readMemory = (kept: Kept): BoardRecord['sent'] =>
  kept === null || kept === 'unknown'
    ? kept
    : { presetId: kept.presetId, bytes: fromBase64(kept.bytes), atMs: Date.parse(kept.at) };

const writeMemory = (memory: InMemory | 'unknown' | null): Kept =>
  memory === null || memory === 'unknown'
    ? memory
    : {
        presetId: memory.presetId,
        bytes: toBase64(memory.bytes),
        at: new Date(memory.atMs).toISOString(),
      };

/** What is known of a board, among all that is known of a rig. */
export function boardRecord(records: readonly GearRecord[], boardId: string): BoardRecord {
  const found = records.find((r) => r.id === boardId);
  return found?.what.kind === 'board'
    ? { sent: readMemory(found.what.sent), stored: readMemory(found.what.stored) }
    : NO_RECORD;
}

const UNKNOWN: BoardRecord = { sent: 'unknown', stored: 'unknown' };

/** Keeps what each job with a board leaves known. A board has one record, which is called like it. */
export function keepBoardRecords(host: LiveHost, keeper: RecordKeeper): void {
  host.link.onEnd = ({ boardId, presetId, job }) => {
    const rigId = host.now().world.show.rig.id;
    void keeper.of(rigId).then((records) => {
      // What was known is not at hand: what this job does not tell is not known then.
      const before = records ? boardRecord(records, boardId) : UNKNOWN;
      const after = recordAfter(before, job, presetId, Date.now());
      if (after.sent === before.sent && after.stored === before.stored) return;
      keeper.keep({
        id: boardId,
        rigId,
        aboutId: boardId,
        at: new Date().toISOString(),
        what: { kind: 'board', sent: writeMemory(after.sent), stored: writeMemory(after.stored) },
      });
    });
  };
}
