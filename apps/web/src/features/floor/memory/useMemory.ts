import {
  memoryBytes,
  memoryOf,
  readMemory,
  type BoardMemory,
  type BoardRecord,
  type ProgramItem,
} from '@idle-step/core/memory';
import type { Board, Preset } from '@idle-step/core/floor';
import type { FullRig } from '@idle-step/core/routing';
import { useMemo, useSyncExternalStore } from 'react';
import { usePresetsQuery, useRigsQuery } from '../../../api/api';
import { useDraft } from '../../../drafts/useDocs';
import { useLiveHost } from '../../../live/use/useLive';
import type { LinkSnapshot } from '../../../live/link/BoardLink';
import { useBoardRecord } from '../../../records/useRecords';

/** Where a memory is, in the order in which it gets there. */
export const PLACES = ['here', 'saved', 'sent', 'stored'] as const;
export type MemoryPlace = (typeof PLACES)[number];

/** How what is at a place stands to what is on the screen. */
export type PlaceState =
  | { readonly kind: 'same'; readonly atMs: number | null }
  | {
      readonly kind: 'other';
      readonly atMs: number | null;
      readonly presetId: string | null;
      readonly memory: BoardMemory | null;
    }
  /** Nothing is known of it, or nobody can tell. */
  | { readonly kind: 'none' }
  | { readonly kind: 'unknown' };

export type Memories = {
  /** What a board by itself would be sent now. */
  readonly here: BoardMemory;
  readonly bytes: Uint8Array;
  readonly leftOut: readonly ProgramItem[];
  readonly saved: PlaceState;
  readonly sent: PlaceState;
  readonly stored: PlaceState;
  readonly record: BoardRecord;
};

const isEqual = (a: Uint8Array, b: Uint8Array): boolean =>
  a.length === b.length && a.every((byte, i) => byte === b[i]);

/** What a preset is as a memory: on the screen, as it is saved, and as the board has it. */
export function useMemory(rig: FullRig, board: Board, preset: Preset): Memories {
  const { record } = useBoardRecord(rig.id, board.id);
  const made = useMemo(() => {
    const { memory, leftOut } = memoryOf(rig, board, preset);
    return { here: memory, leftOut, bytes: memoryBytes(memory) };
  }, [rig, board, preset]);
  const saved = useSaved(rig, board, preset, made.bytes);
  return useMemo(() => {
    const stateOf = (held: BoardRecord['sent']): PlaceState => {
      if (held === null) return { kind: 'none' };
      if (held === 'unknown') return { kind: 'unknown' };
      const { atMs, presetId, bytes } = held;
      if (isEqual(bytes, made.bytes)) return { kind: 'same', atMs };
      const read = readMemory(bytes);
      return { kind: 'other', atMs, presetId, memory: read.ok ? read.value : null };
    };
    return { ...made, saved, record, sent: stateOf(record.sent), stored: stateOf(record.stored) };
  }, [made, saved, record]);
}

/** How what the server keeps stands to what is on the screen. */
function useSaved(rig: FullRig, board: Board, preset: Preset, bytes: Uint8Array): PlaceState {
  const { data: presets } = usePresetsQuery(rig.id);
  const { data: rigs } = useRigsQuery();
  const status = useDraft('presets', preset.id)?.status;
  const kept = presets?.find((p) => p.doc.id === preset.id)?.doc;
  const keptRig = rigs?.find((r) => r.doc.id === rig.id)?.doc;
  return useMemo(() => {
    const keptBoard = keptRig?.boards.find((b) => b.id === board.id);
    if (!kept || !keptRig || !keptBoard) return { kind: 'none' };
    const { memory } = memoryOf(keptRig, keptBoard, kept);
    const atMs = status?.kind === 'saved' ? Date.parse(status.at) : null;
    return isEqual(memoryBytes(memory), bytes)
      ? { kind: 'same', atMs }
      : { kind: 'other', atMs, presetId: preset.id, memory };
  }, [kept, keptRig, board.id, preset.id, bytes, status]);
}

/** Jobs with boards, and simulated ones. */
export function useLink(): LinkSnapshot {
  const { link } = useLiveHost();
  return useSyncExternalStore(link.subscribe, link.getSnapshot);
}
