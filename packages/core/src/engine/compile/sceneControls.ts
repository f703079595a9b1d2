import {
  feelOf,
  gestureWants,
  isPressed,
  pagesOf,
  PLAIN_ASSIGNMENT,
  type Assignment,
  type Control,
  type Preset,
} from '../../floor';
import { sceneSurround, type Reached, type SceneControl, type Song } from '../../show';
import type { WorldBoard, WorldLamp, WorldWork } from '../world/world';
import { lampCauses } from './lampCauses';
import { there } from '../../sure';

const NONE: ReadonlyMap<string, WorldWork> = new Map();

/** For each scene of a song, the controls that do something else than their bank says. */
export function sceneControlsOf(
  song: Song,
  boards: readonly WorldBoard[],
  functions: ReadonlyMap<string, Reached>,
): readonly ReadonlyMap<string, WorldWork>[] {
  if (song.scenes.every((s) => s.controls.length === 0)) return song.scenes.map(() => NONE);
  return song.scenes.map((_, at) => {
    const works = new Map<string, WorldWork>();
    for (const [controlId, { value }] of sceneSurround(song, at).controls) {
      const work = workOf(value, boards, functions);
      if (work) works.set(controlId, work);
    }
    return works;
  });
}

/** What a scene says of a control, ready to be looked up; `null` where its bank counts, or something of it is gone. */
function workOf(
  said: SceneControl,
  boards: readonly WorldBoard[],
  functions: ReadonlyMap<string, Reached>,
): WorldWork | null {
  const board = boards.find((b) => b.board.id === said.boardId);
  const control = board?.board.controls.find((c) => c.id === said.controlId);
  if (!control || said.kind === 'as-bank' || !functions.has(said.functionId)) return null;
  const { preset } = there(board);
  const assignment = assignmentFor(said, preset);
  return {
    assignment,
    wants: gestureWants(assignment),
    lamp: lampEntry(functions, preset, control, assignment),
  };
}

/** How the control is pressed and moved stays as it is in its bank: the first one that has it. */
function assignmentFor(said: Exclude<SceneControl, { kind: 'as-bank' }>, preset: Preset | null): Assignment {
  const { controlId, functionId } = said;
  const own = (preset ? pagesOf(preset) : [])
    .flatMap((page) => page.assignments)
    .find((a) => a.controlId === controlId);
  const id = `scene/${controlId}/${functionId}`;
  const plain: Assignment = {
    ...PLAIN_ASSIGNMENT,
    controlId,
    ...(own && { response: own.response, touch: own.touch, timing: own.timing }),
  };
  switch (said.kind) {
    case 'move': {
      const { from, to } = said;
      return {
        ...plain,
        sweeps: [{ id, functionId, from, to, invert: false, curve: 'linear', points: [] }],
      };
    }
    case 'set':
      return { ...plain, press: [{ id, kind: 'set', functionId, value: said.value }] };
    case 'toggle':
      return { ...plain, press: [{ id, kind: 'toggle', functionId }] };
  }
}

/** The lamp of a control with what it follows; `null` where it has none. */
export function lampEntry(
  functions: ReadonlyMap<string, Reached>,
  preset: Preset | null,
  control: Control,
  assignment: Assignment | undefined,
): WorldLamp | null {
  const rule = assignment?.lamp ?? (preset && feelOf(preset, control.kind).lamp);
  if (!isPressed(control.kind) && !rule) return null;
  return { control, assignment, rule, causes: lampCauses(functions, control, assignment, rule) };
}
