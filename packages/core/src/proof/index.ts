export * from './hops';
export * from './traceStart';
export * from './trace';
export * from './movers';
export * from './noteSentence';
export type { PortNow } from './traceRig';
export * from './practise';
export { boardMarks, presetSends, type Sent, type SentMark } from './presetSends';
export { findingsOf } from './findings';
export {
  groundOf,
  NOTHING_KNOWN,
  WHY,
  type GearKnown,
  type ProofCode,
  type ProofFinding,
  type Subject,
} from './findings/finding';
