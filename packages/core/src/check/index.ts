export { checkThings, type CheckedControl, type CheckedDevice, type CheckThing } from './things';
export {
  checkAgain,
  checkDueMs,
  checkOn,
  dueThing,
  learnedIn,
  rightCount,
  startCheck,
  type Checked,
  type CheckEvent,
  type CheckMode,
  type CheckResult,
  type Found,
  type LineCheck,
} from './lineCheck';
export { checkSentence, FOUND_WORDS } from './words';
