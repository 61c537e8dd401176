export { last, nth, withId } from './parts.ts';
export type { SourceRef, Span } from './place.ts';
