export * from './trace/hops';
export * from './trace/traceStart';
export * from './trace/trace';
export * from './trace/movers';
export * from './noteSentence';
export type { PortNow } from './trace/traceRig';
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
export { idFrom } from './findings/nearest';
export { notStoredIn, type BoardTold } from './findings/toldOfGear';
export { drained } from './feet/drained';
export { begunEvening, worldOfFeet } from './feet/evening';
export { footGraph, GRAPH_LIMITS, type FootGraph, type GraphLimits, type SearchProgress } from './feet/graph';
export { pressed, type FootGesture, type FootPress } from './feet/press';
export { reachOf, BACK_WITHIN, type Reach, type SceneReach, type Trap } from './reach/reach';
export { fittsBits, fittsS } from './plan/fitts';
export { FEET_MODEL, type FeetModel, type Foot } from './plan/feetModel';
export { pressesWords, pressWords } from './feet/pressWords';
export { pressPlan, type PlannedPart, type PlannedPress, type PressPlan } from './plan/pressPlan';
export { wholeLayout, type LayoutFound } from './layout/acrossBanks';
export { withMoves, type LayoutMove, type LayoutWish } from './layout/layout';
export { breaksOf, type Break, type Breakable } from './breaks/breaks';
