export { MAX_RUNS, explore, type Ask, type Exploration, type Question } from './ask.ts';
export { sizeOf } from './conditions.ts';
export { MOST_RANGE_CHOICES, keyOf, openKey, rangeQuestion } from './doubts.ts';
export { stopOf, type Doubt, type FieldName, type Need } from './needs.ts';
export { Effort, MOST_EFFORT, TooMuchWork } from './effort.ts';
export { runBaseChain, type ChainResult } from './evaluate.ts';
export {
  inValues,
  isMissing,
  valueOf,
  type FieldValue,
  type HeaderName,
  type LookupField,
  type Missing,
} from './fields.ts';
export { answersTo, givenList, outcomesOf, type Given } from './given.ts';
export { TRACKING_PRIORITY, TRANSLATION_PRIORITY, hookPlan, type HookPlan } from './order.ts';
export {
  CT_STATE,
  CT_STATUS,
  EMPTY_PROGRAM,
  PRESUMED_OPEN,
  PACKET_TYPE,
  ROUTE_TYPE,
  TCP_FLAG,
  type BaseChain,
  type Chain,
  type Field,
  type Hook,
  type Lookup,
  type MapRow,
  type MarkName,
  type Origin,
  type Program,
  type RejectKind,
  type Rule,
  type Step,
  type RowPlace,
  type TranslationTarget,
  type ValueSet,
  type Verdict,
} from './program.ts';
export { runChainOnSets, type SetEnd, type SetHost } from './sets/chains.ts';
export {
  TCP_FLAGS,
  arriving,
  headerValues,
  newSetSession,
  packetSet,
  sentSide,
  splitByHeader,
  trailOf,
  withBoxSide,
  withSession,
  type Mapped,
  type PacketSet,
  type Parted,
} from './sets/packetSet.ts';
export type { Direction, Session, Subject, Tracking } from './subject.ts';
export type { Recorder, RuleHost, Skipped, TranslationEnd, Visit } from './host.ts';
