export { explore, MAX_RUNS, type Ask, type Exploration, type Question } from './ask.ts';
export { runBaseChain, type Bench, type ChainResult, type Visit } from './evaluate.ts';
export { inValues, isMissing, readField, type FieldValue, type Missing } from './fields.ts';
export { hookPlan, TRACKING_PRIORITY, TRANSLATION_PRIORITY, type HookPlan } from './order.ts';
export { CT_STATE, CT_STATUS, EMPTY_PROGRAM, PACKET_TYPE, ROUTE_TYPE, TCP_FLAG, type BaseChain, type Chain, type Field, type Hook, type Lookup, type MapRow, type MarkName, type Program, type RejectKind, type Rule, type Step, type TranslationTarget, type ValueSet, type Verdict } from './program.ts';
export type { Direction, Session, Subject, Tracking } from './subject.ts';
