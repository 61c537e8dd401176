export { benchView, endpointKey, stopNames, type BenchView } from './bench/index.ts';
export { CaseError, decodeText, evidenceEntries, folderFrom, packCase, parseCaseDocument, unpackCase, type CaseDocument, type CaseFolder } from './case/index.ts';
export { trace, type Trace } from './crossing/index.ts';
export { buildSite, cleanText, readCase, readText } from './evidence/index.ts';
export { formatEndpoint, parseEndpoint, parseTarget, type Header } from './net/index.ts';
