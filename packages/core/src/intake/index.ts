export { checkDialled, parseDialled, type Dialled, type DialProblem } from './dialled.ts';
export { caseFromIntake, readComplaint, type Intake } from './line.ts';
