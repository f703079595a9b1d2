/** A way to the other windows of this browser by a name; `null` where the browser has none, or refuses it. */
export function openChannel(name: string): BroadcastChannel | null {
  try {
    return new BroadcastChannel(name);
  } catch {
    return null;
  }
}
