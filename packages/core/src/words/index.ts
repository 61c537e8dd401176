export { YIELDS, asksOf, checkWords, type CheckWords, type System, type Yields } from './checks.ts';
export { addressWithKind, endingText, type StopNames } from './endings.ts';
export { factText } from './facts.ts';
export { inSentence, named } from './named.ts';
export { addressMiss } from './near.ts';
export { proposalWords, reasonText, type ProposalWords } from './proposals.ts';
