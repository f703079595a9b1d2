import type { World } from '../../engine';
import { got } from '../../sure';
import type { FootPress } from './press';

const GESTURE_WORDS = { press: '', hold: 'hold ', doublePress: 'twice ', toe: 'toe of ', heel: 'heel of ' };

/** A press in words, with its board where it is not the first. Example: `near 3`, `hold switch 3 of Twig 4`. */
export function pressWords(world: World, { controlId, gesture }: FootPress): string {
  const { boardIndex, control } = got(world.controls, controlId);
  const board = boardIndex === 0 ? '' : ` of ${world.boards[boardIndex]?.device.name ?? ''}`;
  return `${GESTURE_WORDS[gesture]}${control.name}${board}`;
}

/** Presses one after the other; the same several times with how often. Example: `far 5, near 5 × 3`. */
export function pressesWords(world: World, presses: readonly FootPress[]): string {
  const runs: { readonly text: string; times: number }[] = [];
  for (const press of presses) {
    const text = pressWords(world, press);
    const last = runs.at(-1);
    if (last?.text === text) last.times++;
    else runs.push({ text, times: 1 });
  }
  return runs.map(({ text, times }) => (times > 1 ? `${text} × ${times}` : text)).join(', ');
}
