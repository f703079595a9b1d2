export * from './hops';
export * from './traceStart';
export * from './trace';
export * from './movers';
export * from './noteSentence';
export type { PortNow } from './traceRig';
export * from './practise';
export { boardMarks, presetSends, type Sent, type SentMark } from './presetSends';
