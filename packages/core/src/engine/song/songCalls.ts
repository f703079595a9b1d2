import { NO_SEQUENCES, program, readSequence } from '../../midi';
import type { SongCalls } from '../../show';
import { reportsOf } from '../heard/drivenBy';
import { messageKey } from '../world/inputKeys';
import { type World } from '../world/world';
import { nth } from '../../sure';

/** The program that calls one song of a running order, and what else listens to it. */
export type SongCall = {
  /** 0–127, or `null` beyond the last program that there is. */
  readonly program: number | null;
  /** Why it does not call, or what else it does. */
  readonly faults: readonly string[];
};

/** The program of each of so many songs, base + k − 1 from the first on, held against everything else that listens. */
export function songCalls(world: World, calls: SongCalls, songCount: number): readonly SongCall[] {
  return Array.from({ length: songCount }, (_, k): SongCall => {
    const number = calls.base + k;
    if (number > 127) return { program: null, faults: ['There is no program beyond 127 to call it.'] };
    const message = program(calls.channel, number);
    const faults: string[] = [];
    const control = world.inputs.get(calls.portId)?.get(messageKey(message));
    if (control) {
      const board = nth(world.boards, control.boardIndex).device.name;
      faults.push(`${board} ${control.control.name} sends this program, and does what it is told instead.`);
    }
    for (const { route } of world.routes.sources.get(calls.portId)?.takersOf(message) ?? [])
      faults.push(`The route ${route.name} takes this program, and gets none that calls a song.`);
    const { sequence } = readSequence(NO_SEQUENCES, message);
    for (const { reached } of reportsOf(world, calls.portId, message, sequence))
      faults.push(`${reached.device.name} reports its ${reached.fn.name} by this program.`);
    return { program: number, faults };
  });
}
