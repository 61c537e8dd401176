export { decodeText, type Decoded } from './bytes.ts';
export { CaseError, SYMPTOMS, VANTAGES, type CaseDocument, type CaseFolder, type Client, type EvidenceEntry, type Observation, type PathStop, type Service, type ServiceEndpoint, type Symptom } from './document.ts';
export { checkCaseDocument, parseCaseDocument } from './schema.ts';
export { evidenceEntries } from './entries.ts';
export { folderFrom, MAX_UNPACKED, packCase, unpackCase } from './zip.ts';
