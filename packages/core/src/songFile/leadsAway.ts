import type { Action } from '../floor';

/** Actions that lead away from the song's own course have no place in a file of it. */
export const LEADS_AWAY: ReadonlySet<Action['kind']> = new Set(['line', 'cue', 'loop', 'song']);
