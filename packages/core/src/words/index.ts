export { assumptionText } from './assumed.ts';
export { asksOf, checkWords } from './checks.ts';
export { doubtText } from './doubts.ts';
export { addressWithKind, endingText } from './endings.ts';
export { factText } from './facts.ts';
export { inSentence, ROLE_NAMES, type StopNames } from './named.ts';
export { addressMiss } from './near.ts';
export { needLamp, needLine, needParagraph } from './needs.ts';
export { nextConnectionText } from './nextConnection.ts';
export { problemText } from './problems.ts';
export { proposalWords, reasonText, type ProposalWords } from './proposals.ts';
export { reasonLamp, reasonLine, reasonParagraph, type AskReason } from './reasons.ts';
export { contradictionWords, type ContradictionWords } from './contradictions.ts';
export { mendLine, mendMessage, mendWords, type MendWords } from './mends.ts';
export type { ValueChange } from './mends/parts.ts';
export { captionText, type Caption } from './captions.ts';
export { askedText, letInText, listenerText, reachText } from './openings.ts';
export type { Further, Verdict } from './verdict.ts';
export { heldText, verdictWords, type VerdictWords } from './verdicts.ts';
export { doneWords, type Done, type DoneWords } from './done.ts';
export { misplacedText, whoseText } from './placing.ts';
export { deviceRowText } from './deviceRows.ts';
export { SYMPTOM_WORDS } from './heard.ts';
export { pointedText } from './pointed.ts';
export { afterwardsText, observationText, vantageText, type Afterwards } from './afterwards.ts';
export { columnWord } from './columns.ts';
export { tooOpenText, type TooOpen } from './tooOpen.ts';
export { gradeText, leadingText, lowered, placeText, unnamedText, type Grade } from './suspicion.ts';
export { shownFaultText, type ShownFault } from './shownFaults.ts';
export {
  cameCaption,
  clockAheadText,
  countedText,
  KEPT_OUT_CAPTION,
  placesText,
  recordText,
  trafficDetail,
  trafficHeadline,
  unwatchedText,
  watchedText,
  type TrafficStory,
} from './traffic.ts';
export { becameText, endText, type Teller } from './trafficEnds.ts';
export type { CheckWords, System } from './asked.ts';
