export { benchView, endpointKey, stopNames, type BenchView } from './views/index.ts';
export {
  CaseError,
  decodeText,
  evidenceEntries,
  folderFrom,
  packCase,
  parseCaseDocument,
  unpackCase,
  type CaseDocument,
  type CaseFolder,
} from './case/index.ts';
export { trace, type Trace } from './crossing/index.ts';
export { buildSite } from './model/index.ts';
export { cleanText, readText } from './reading/index.ts';
export { readCase } from './ledger/index.ts';
export { formatEndpoint, parseEndpoint, parseTarget, type Header } from './net/index.ts';
