/** A free port on loopback, for a server that may come and go: 20000 to 32767. */
export function freePort(): Promise<number>;
