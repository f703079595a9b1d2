/** Inputs of the browser that no port of the rig is bound to: heard while something is learned, never played. */
const MARK = 'browser:';

/** What stands for the port where a message arrived at an unbound input. */
export const unboundPort = (name: string): string => `${MARK}${name}`;

/** The name of the unbound input, or `null` for a port of the rig. */
export const unboundName = (portId: string): string | null =>
  portId.startsWith(MARK) ? portId.slice(MARK.length) : null;
