export { factsOf, readBytes, readCase, typedFile, typedLines, type CaseFacts, type Located, type ReadFile, type TypedLine } from './caseFacts.ts';
export { assignStop, type Assignment } from './assign.ts';
export { cleanText } from './clean.ts';
export type { Coverage, Fact, FactKind, ForwardFact, LabelKind, Problem, Reading, Span } from './facts.ts';
export { READERS } from './readers/index.ts';
export type { Reader } from './readers/reader.ts';
export { readText, recognise } from './recognise.ts';
export { buildSite, forwardRows, labelledAddress, wanAddress } from './site.ts';
export { linesOf } from './text.ts';
