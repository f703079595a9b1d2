export * from './hops';
export * from './trace';
export * from './movers';
export type { PortNow } from './traceRig';
