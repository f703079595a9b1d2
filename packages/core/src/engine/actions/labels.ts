import { actionsOf, devicesAddressed, functionsMoved, type Assignment } from '../../floor';
import type { Device } from '../../gear';
import { namesIn } from './names';
import { proposedLabel } from './proposedLabel';
import type { World } from '../world/world';

/** What a control is called in a bank: its own label, or the one proposed from what it does. */
export function labelOf(world: World, assignment: Assignment | undefined, songIndex: number): string {
  if (!assignment) return '';
  return assignment.label || proposedLabel(assignment, namesIn(world, songIndex));
}

/** Devices that an assignment moves, each once; a go-to-scene moves those that the scene has values for. */
export function devicesMoved(world: World, assignment: Assignment | undefined, songIndex: number): Device[] {
  if (!assignment) return [];
  const ids = functionsMoved(assignment);
  for (const action of actionsOf(assignment)) {
    if (action.kind === 'scene' && action.to.kind === 'at')
      ids.push(...(world.songs[songIndex]?.cells[action.to.index]?.keys() ?? []));
  }
  const addressed = devicesAddressed(assignment).flatMap((id) => world.ways.get(id)?.device ?? []);
  return [...new Set([...ids.flatMap((id) => world.functions.get(id)?.device ?? []), ...addressed])];
}
