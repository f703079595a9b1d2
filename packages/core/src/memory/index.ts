export { boardProgram, type Deed, type ProgramItem, type SweepDeed } from './boardProgram';
export { LIST_WORDS, SENT_WORDS } from './boardWords';
export {
  handRows,
  handSteps,
  type HandDone,
  type HandLeftOut,
  type HandRow,
  type HandStep,
} from './handSteps';
