export type { Assumption } from './assumed.ts';
export { NOT_OUTSIDE, floodFrom, floodSite, type Entry, type Flood } from './flood.ts';
export { follow } from './follow.ts';
export { lookUpRoute, type RouteAnswer, type RouteQuery } from './routing.ts';
export type { Delivery, OpenEnd } from './movingSet.ts';
export { isForked, trace, type Trace, type TraceOptions } from './trace.ts';
export {
  isNeed,
  visitsOf,
  type Ending,
  type ErrorKind,
  type Flight,
  type Leg,
  type LegEvent,
  type Run,
} from './types.ts';
export { traceAnyPort } from './anyPort.ts';
