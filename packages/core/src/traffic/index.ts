export { CaptureReader } from './capture/reader.ts';
export type { CaptureSummary } from './capture/summary.ts';
export {
  conversationEnd,
  endingError,
  type ConversationCounts,
  type ConversationEnd,
  type ConversationError,
} from './conversationEnd.ts';
export { payloadHash } from './capture/payload.ts';
export type { CapturedFlow, Way } from './capture/flow.ts';
export { clockText } from './clockText.ts';
export { fateOf, type Fate } from './log/fate.ts';
export { logLayout, LogReader, type LogLayout, type LogOptions, type LogSummary } from './log/reader.ts';
export {
  EVERYTHING,
  type Entry,
  type LogGroup,
  type Unread,
  type UnreadWhy,
  type Wanted,
} from './log/sink.ts';
export { watchedTries, type Watched } from './moments.ts';
export type { TimelineSummary } from './timeline.ts';
