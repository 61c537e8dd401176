export { assignStop, type Assignment } from './assign.ts';
export type { Whose } from './whose.ts';
export {
  factsOf,
  ifAllWhole,
  readBytes,
  readCase,
  type CaseFacts,
  type Located,
  type ReadFile,
} from './caseFacts.ts';
export { awaited, staleSince } from './changes.ts';
export { contradictions, slipOf, type Contradiction, type Slip } from './contradictions.ts';
export { labelledAddress } from './labelled.ts';
export { standing, type AgedReading } from './newest.ts';
export { answers } from './answers.ts';
export { newestOf, newestWith, toldIn } from './told.ts';
export type { Misplaced } from './misplaced.ts';
export { countedBetween, type CountedRule } from './counted.ts';
export { arrivalOf, diedOnReturn, type Arrival, type Death } from './arrival.ts';
export { keptOut, recordsOf, trafficRecords, type Became, type TrafficRecord } from './records.ts';
