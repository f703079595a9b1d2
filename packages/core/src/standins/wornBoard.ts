/** What a movement of a worn switch says: its contacts touch again and again before they rest. Times in ms from it. */
export type Bounce = { readonly afterMs: number; readonly isDown: boolean };

/** How often worn contacts touch again. */
const TOUCHES = 2;

/**
 * A switch that goes down or up with contacts that bounce for as long as its board waits them out, at the most.
 * @param debounceMs 0 for contacts that do not bounce.
 * Example: `bounces(true, 8)` is down, up after 2 ms, down after 4 ms.
 */
export function bounces(isDown: boolean, debounceMs: number): readonly Bounce[] {
  const said: Bounce[] = [{ afterMs: 0, isDown }];
  if (debounceMs === 0) return said;
  for (let i = 1; i <= TOUCHES; i++)
    said.push({ afterMs: (debounceMs / (TOUCHES + 2)) * i, isDown: i % 2 === 1 ? !isDown : isDown });
  return said;
}

/**
 * Where a worn pedal says that it is while it stands at one place: there, and a little to both sides. Against its stop
 * it stands still.
 * @param raw 0–127. @param hardware steps within which its board takes it to stand still (0 for a steady one), and its
 * real ends, 0–127.
 */
export function tremble(
  raw: number,
  { jitter, heel, toe }: { readonly jitter: number; readonly heel: number; readonly toe: number },
): readonly number[] {
  const half = Math.floor(jitter / 2);
  const isAtStop = raw - half <= Math.min(heel, toe) || raw + half >= Math.max(heel, toe);
  return half === 0 || isAtStop ? [raw] : [raw, raw + half, raw - half, raw];
}
