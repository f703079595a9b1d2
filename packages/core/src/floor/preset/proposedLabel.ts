import { shownValue, type ChartFunction, type Device } from '../../gear';
import { ACTION_LISTS } from '../gestures/gesture';
import { alternates, isDoneBy, movedBy, plainRow, type Action, type Assignment } from './preset';

/** Finds a function with its device, or nothing when it is gone. */
export type FunctionFinder = (functionId: string) => { device: Device; fn: ChartFunction } | undefined;

/**
 * A short name for a control from the first thing it does; empty when it does nothing.
 * @param sceneName name of the n-th scene (from 0) of the song in play, empty when the song has no
 *   such scene, `null` when there is no song.
 * Example: a switch that sets Kelpline's Snapshot to value 2 is proposed as `Full`.
 */
export function proposedLabel(
  assignment: Assignment,
  find: FunctionFinder,
  sceneName: (index: number) => string | null,
  bankName: (bankId: string) => string | null,
): string {
  const sweep = assignment.sweeps[0];
  if (sweep) return plainRow(sweep)?.name ?? find(movedBy(sweep))?.fn.name ?? 'gone';
  const labels = firstActions(assignment).map((a) => actionLabel(a, find, sceneName, bankName));
  return [...new Set(labels)].join(' / ');
}

/** The first action that is not switched off, gesture by gesture; where it alternates, the first of each turn. */
function firstActions(assignment: Assignment): Action[] {
  for (const list of ACTION_LISTS) {
    const actions = assignment[list].filter((a) => !a.isOff);
    if (actions.length > 0 && alternates(actions))
      return [false, true].flatMap((isEven) => actions.find((a) => isDoneBy(a, isEven)) ?? []);
    if (actions[0]) return [actions[0]];
  }
  return [];
}

function actionLabel(
  action: Action,
  find: FunctionFinder,
  sceneName: (index: number) => string | null,
  bankName: (bankId: string) => string | null,
): string {
  switch (action.kind) {
    case 'set':
    case 'toggle':
    case 'arm-only':
    case 'momentary':
    case 'one-of':
    case 'ramp':
    case 'step': {
      const found = find(action.functionId);
      if (!found) return 'gone';
      if (action.kind !== 'set' || found.fn.shape.kind === 'trigger') return found.fn.name;
      const { number, label } = shownValue(found.device, found.fn, action.value);
      return found.fn.shape.kind === 'switch'
        ? `${found.fn.name} ${label}`
        : label || `${found.fn.name} ${number}`;
    }
    case 'message':
      return `${MESSAGE_WORDS[action.send]} ${action.number}`;
    case 'arm-step':
      return action.to === 'next' ? 'Next track' : 'Previous track';
    case 'route':
      return action.part === 'gate' ? 'Gate' : 'Route';
    case 'raw':
      return 'Raw';
    case 'clock':
      return `Clock ${action.to}`;
    case 'bank':
    case 'page':
      return action.to.kind === 'bank'
        ? (bankName(action.to.bankId) ?? 'gone')
        : `${action.kind === 'bank' ? 'Bank' : 'Page'} ${action.to.kind}`;
    case 'scene':
      if (action.to.kind === 'is') return 'Scene';
      if (action.to.kind === 'again') return 'Scene again';
      if (action.to.kind !== 'at') return action.to.kind === 'next' ? 'Next' : 'Back';
      return sceneName(action.to.index) ?? `Scene ${action.to.index + 1}`;
    case 'song':
      if (typeof action.to === 'object') return `Song ${action.to.index + 1}`;
      return { next: 'Next song', previous: 'Previous song', again: 'Song again' }[action.to];
    case 'show':
      return { begin: 'Begin', end: 'End', next: 'On', previous: 'Back' }[action.to];
    case 'view':
      return action.to === 'next' ? 'Next view' : 'View back';
    case 'capture':
      return 'Capture';
    case 'line':
      return { start: 'Start', continue: 'Continue', stop: 'Stop', toggle: 'Run' }[action.to];
    case 'cue':
      if (action.to.kind === 'at') return `Cue ${action.to.index + 1}`;
      return action.to.kind === 'next' ? 'Next cue' : 'Cue back';
    case 'loop':
      return action.to === 'toggle' ? 'Loop' : `Loop ${action.to}`;
    case 'tap':
      return 'Tap';
    case 'panic':
      return 'Panic';
  }
}

const MESSAGE_WORDS = { note: 'Note', controller: 'CC', program: 'Program' } as const;
