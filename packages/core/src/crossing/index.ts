export { floodSite, outsideEntries, type Delivery, type Entry } from './flood.ts';
export { lookUpRoute, type RouteAnswer, type RouteQuery } from './routing.ts';
export { trace, type Trace, type TraceOptions } from './trace.ts';
export type { Ending, ErrorKind, Flight, Leg, LegEvent, Run } from './types.ts';
