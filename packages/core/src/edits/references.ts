import { isTable, type Json, type Table } from './json';
import { there } from '../sure';

/** What one document, or one part of it, can point at. */
export type ReferenceKind =
  | 'rig'
  | 'device'
  | 'port'
  | 'function'
  | 'board'
  | 'control'
  | 'preset'
  | 'bank'
  | 'group'
  | 'route'
  | 'song'
  | 'scene';

/** The fields that point at something, by their names: whatever has one of these is found, wherever it stands. */
export const REFERENCE_FIELDS: Readonly<Record<string, ReferenceKind>> = {
  rigId: 'rig',
  deviceId: 'device',
  portId: 'port',
  fromPortId: 'port',
  toPortId: 'port',
  portIds: 'port',
  othersTo: 'port',
  functionId: 'function',
  armedFunctionIds: 'function',
  boardId: 'board',
  controlId: 'control',
  controlIds: 'control',
  presetId: 'preset',
  bankId: 'bank',
  groupId: 'group',
  routeId: 'route',
  songId: 'song',
  sceneId: 'scene',
  sceneIds: 'scene',
  leftOutSceneIds: 'scene',
};

/** Fields that are empty where what they pointed at is gone; elsewhere the row goes that pointed there. */
const EMPTIED = new Set(['presetId', 'lamp', 'follows', 'calls']);

/** One place that points at something. */
export type Reference = {
  readonly kind: ReferenceKind;
  readonly id: string;
  /** Fields and places from the document on, as `banks.0.assignments.3.press.0.functionId`. */
  readonly path: readonly (string | number)[];
  /** The part that has the field: an action, a sweep, a value, a lamp. */
  readonly holder: Table;
};

/** Every reference of a document, in the order in which it is read. */
export function referencesIn(doc: Json): Reference[] {
  const found: Reference[] = [];
  mapped(doc, (reference) => {
    found.push(reference);
    return reference.id;
  });
  return found;
}

/** A document with its references pointing elsewhere. The same object where none changed. */
export const mapReferences = <D extends Json>(doc: D, to: (reference: Reference) => string): D =>
  mapped(doc, to) ?? doc;

/**
 * A document without what points at something that is gone: actions, sweeps, values, assignments and lamps that do.
 * @returns `null` where the document itself cannot be without it; the same object where nothing pointed there.
 */
export const takenOut = <D extends Json>(doc: D, isGone: (reference: Reference) => boolean): D | null =>
  mapped(doc, (reference) => (isGone(reference) ? null : reference.id));

type To = (reference: Reference) => string | null;

// Only whole rows, and fields that may be empty, are taken out: the result still has the type of the document.
const mapped = <D extends Json>(doc: D, to: To): D | null => (mapPart(doc, [], to) ?? null) as D | null;

/** @returns `undefined` for a part that has to go, because it needs what it pointed at. */
function mapPart(part: Json | undefined, path: readonly (string | number)[], to: To): Json | undefined {
  if (Array.isArray(part)) {
    const rows = part.flatMap((row: Json, i) => mapPart(row, [...path, i], to) ?? []);
    return rows.length === part.length && rows.every((row, i) => row === part[i]) ? part : rows;
  }
  if (!isTable(part)) return part;
  let next: Record<string, Json | undefined> | null = null;
  for (const [field, value] of Object.entries(part)) {
    const changed = mapField(part, field, value, [...path, field], to);
    if (changed === value) continue;
    if (changed === undefined && !EMPTIED.has(field)) return undefined;
    next ??= { ...part };
    next[field] = changed ?? null;
  }
  return next ?? part;
}

function mapField(
  holder: Table,
  field: string,
  value: Json | undefined,
  path: readonly (string | number)[],
  to: To,
): Json | undefined {
  const kind = Object.hasOwn(REFERENCE_FIELDS, field) ? there(REFERENCE_FIELDS[field]) : null;
  if (kind === null) return mapPart(value, path, to);
  if (typeof value === 'string') return to({ kind, id: value, path, holder }) ?? undefined;
  if (!Array.isArray(value)) return value;
  const ids = value.flatMap((id: Json, i) =>
    typeof id === 'string' ? (to({ kind, id, path: [...path, i], holder }) ?? []) : id,
  );
  return ids.length === value.length && ids.every((id, i) => id === value[i]) ? value : ids;
}
