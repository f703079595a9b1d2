export * from './state/events';
export * from './state/liveState';
export * from './world/world';
export * from './world/place';
export { reachedBanks } from './world/reachedBanks';
export * from './time/countIn';
export * from './song/showOfSet';
export * from './compile/compileWorld';
export * from './actions/labels';
export { messageKey, sequenceKey } from './world/inputKeys';
export type { Turn } from './compile/turnTable';
export * from './lamps/lamps';
export * from './step';
export * from './actions/actionWire';
export * from './song/sceneCost';
export * from './song/unsent';
export * from './song/capture';
export * from './song/songCalls';
export * from './song/armed';
export * from './heard/routeConditions';
export * from './heard/drivenBy';
export * from './replay';
export * from './changeShow';
export type { Bookmark } from './state/bookmark';
export { followedOf, followedState, type Followed } from './state/followed';
export { BOOKMARKED, bookmarkOf } from './state/resume';
export { nextThing, pauseNow, setClock, type Ahead, type SetClock } from './song/setRun';
export { EndlessMoment } from './time/advance';
export { lineBeat } from './time/lineTimes';
export { valueOf, assumedValue, isNotKnown, valueAt, stands, type Known } from './state/known';
export { stateKey } from './state/stateKey';
export { EVERY_CAUSE, LAMP_CAUSES, type LampCause } from './lamps/causes';
export { ACTIONS, traitsOf } from './actions/table';
export { namesIn, type Names } from './actions/names';
export {
  functionRow,
  knownIn,
  type OddWord,
  type SentCode,
  type SentFunction,
  type SentRow,
} from './actions/sentRow';
