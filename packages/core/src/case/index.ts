export { decodeText, type Decoded } from './bytes.ts';
export { isDismissed } from './dismissed.ts';
export {
  CaseError,
  SYMPTOMS,
  VANTAGES,
  type CaseDocument,
  type CaseFolder,
  type Change,
  type Client,
  type EvidenceEntry,
  type Observation,
  type PathStop,
  type Service,
  type ServiceEndpoint,
  type Symptom,
  type TypedLine,
  type WatchedTry,
} from './document.ts';
export { evidenceEntries } from './entries.ts';
export { checkCaseDocument, parseCaseDocument } from './schema.ts';
export { serves } from './serves.ts';
export { settingsOfKind } from './stopSettings.ts';
export { MAX_UNPACKED, folderFrom, packCase, unpackCase } from './zip.ts';
export {
  withChange,
  withDeclined,
  withDismissed,
  withEntry,
  withEvidence,
  withJoined,
  withNewStop,
  withPart,
  withPieces,
  withWhole,
  withSettings,
  withWatched,
  withTyped,
  newStopId,
  withMoved,
  withName,
  withObservation,
  withProtocol,
  withoutEvidence,
  withoutStop,
  withRole,
} from './edits.ts';
export type { FoundStop, StopReason } from './found.ts';
export { typedFile, typedPlace } from './typed.ts';
