export { last, nth } from './parts.ts';
export type { SourceRef, Span } from './place.ts';
