import { boardFindings } from './boards';
import { gearFindings } from './gear';
import { songFindings } from './songs';
import type { ProofFinding, Subject } from './finding';

/** All that is held against an evening, the worst first, else in the order of the gear, the boards and the songs. */
export const findingsOf = (subject: Subject): ProofFinding[] =>
  [...gearFindings(subject), ...boardFindings(subject), ...songFindings(subject)].toSorted(
    (a, b) => Number(a.severity === 'warned') - Number(b.severity === 'warned'),
  );
