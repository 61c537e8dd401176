export { inSentence, named } from './named.ts';
export { proposalWords, reasonText, type ProposalWords } from './proposals.ts';
export { addressWithKind, endingText, type StopNames } from './endings.ts';
export { factText } from './facts.ts';
export { addressMiss } from './near.ts';
export { asksOf, checkWords, YIELDS, type CheckWords, type System, type Yields } from './checks.ts';
