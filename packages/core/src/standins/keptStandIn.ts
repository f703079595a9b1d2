import { STAND_INS, startStandIn, type StandInState } from './standInState';
import { isOneOf, isRecord, keysOf } from '../sure';

/** What stands in the states of stand-ins as a time of the clock that their messages come with, in ms. */
const TIMES: ReadonlySet<string> = new Set([
  'sinceMs',
  'startedAtMs',
  'takenFromMs',
  'stopsAtMs',
  'deafUntilMs',
]);

/** A stand-in on a clock that shows `byMs` more, in ms. */
export const movedInTime = (standIn: StandInState, byMs: number): StandInState =>
  moved(standIn, byMs) as StandInState;

function moved(value: unknown, byMs: number): unknown {
  if (Array.isArray(value)) return value.map((v) => moved(v, byMs));
  if (typeof value !== 'object' || value === null) return value;
  return Object.fromEntries(
    Object.entries(value).map(([key, v]) => [
      key,
      TIMES.has(key) && typeof v === 'number' ? v + byMs : moved(v, byMs),
    ]),
  );
}

/** A stand-in that was kept by this application; `null` where it was kept by one whose stand-ins were made otherwise. */
export function readStandIn(kept: unknown): StandInState | null {
  const kind = isRecord(kept) ? kept['kind'] : null;
  if (!isOneOf(keysOf(STAND_INS), kind)) return null;
  // It has every part that a stand-in of its kind has, each of its type.
  return isMadeLike(startStandIn(kind), kept) ? (kept as StandInState) : null;
}

/** Whether a value has every part of an example, each of its kind. What is `null` in one of them says nothing. */
function isMadeLike(example: unknown, value: unknown): boolean {
  if (example === null || value === null) return true;
  if (typeof value !== typeof example || Array.isArray(value) !== Array.isArray(example)) return false;
  if (Array.isArray(example))
    return example.length === 0 || (Array.isArray(value) && value.every((v) => isMadeLike(example[0], v)));
  if (!isRecord(example) || !isRecord(value)) return true;
  return Object.entries(example).every(
    ([key, part]) => Object.hasOwn(value, key) && isMadeLike(part, value[key]),
  );
}
