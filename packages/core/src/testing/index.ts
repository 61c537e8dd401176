export {
  ADDRESSES,
  bench,
  DOCUMENT,
  facts,
  FORWARDS,
  lamps,
  NAME,
  ROUTES,
  RULES,
  SOCKETS,
  STATUS,
  WHOLE,
} from './gullcast.ts';
export { caseFacts, caseSite, HOME, serverEvidence, type TestStop } from './case.ts';
export { nftProgram, outcome, run, testMachine, testSite, type TestMachine } from './site.ts';
export { fate, floodDifference, fatesByFlood, fatesByTrace, holdsPacket } from './fates.ts';
export { forwardLines } from './forwards.ts';
