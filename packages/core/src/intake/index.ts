export { checkDialled, hostIn, parseDialled, type DialProblem, type Dialled } from './dialled.ts';
export {
  dialledFrom,
  endpointsFrom,
  heardOf,
  heardProblems,
  KINDS,
  portsText,
  withHeard,
  type Heard,
} from './heard.ts';
export { readComplaint, type Intake } from './line.ts';
export { saidOf, withPorts, type Said } from './said.ts';
export { caseFromIntake } from './newCase.ts';
export { pointedAt, type Pointed, type PointedMeaning } from './pointed.ts';
