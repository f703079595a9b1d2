export { boardProgram, type Deed, type ProgramItem, type SweepDeed } from './boardProgram';
export { LIST_WORDS, SENT_WORDS } from './boardWords';
export {
  handRows,
  handSteps,
  pageName,
  type HandDone,
  type HandLeftOut,
  type HandRow,
  type HandStep,
} from './handSteps';
export { memoryBytes, readMemory, type BoardMemory, type MemoryDevice } from './boardMemory';
export { memoryOf, type RigForMemory } from './memoryOf';
export { memoryShow } from './memoryShow';
export {
  boardDueMs,
  boardOn,
  newMemoryBoard,
  NO_FAULTS,
  receiveKeys,
  type BoardEvent,
  type BoardFaults,
  type BoardReply,
  type MemoryBoard,
} from './memoryBoard';
export { NO_RECORD, recordAfter, type BoardRecord, type InMemory } from './boardRecord';
export { memoryDifferences, memoryRows, type MemoryDifference, type MemoryRow } from './memoryRows';
