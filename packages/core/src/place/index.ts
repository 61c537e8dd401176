export type { SourceRef, Span } from './place.ts';
