export { checkDialled, parseDialled, type DialProblem, type Dialled } from './dialled.ts';
export { caseFromIntake, readComplaint, type Intake } from './line.ts';
