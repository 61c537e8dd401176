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
export {
  caseFacts,
  caseSite,
  forwardingGateway,
  HOME,
  ROUTER_LINES,
  serverEvidence,
  type TestStop,
} from './case.ts';
export { nftProgram, outcome, run, testMachine, testSite, type TestMachine } from './site.ts';
export { fate, floodDifference, fatesByFlood, fatesByTrace, holdsPacket } from './fates.ts';
export { forwardLines } from './forwards.ts';
export { nftHost, nftMeets, nftOutcome } from './nftHost.ts';
export { iptablesHost, iptablesMeets } from './iptablesHost.ts';
export * as mendCases from './mends.ts';
export * as proposing from './proposing.ts';
export { inShort, readShort, type Output } from './outputs.ts';
export * as oneGateway from './oneGateway.ts';
export { tunnelledHost } from './tunnelledHost.ts';
export * as packetSets from './packetSets.ts';
export * as rulePrograms from './programs/index.ts';
export * as writing from './writing.ts';
export * as placing from './placing.ts';
export * as singleFacts from './singleFacts.ts';
export * as windowsFirewall from './windowsFirewall.ts';
export * as zonedOffice from './zonedOffice.ts';
export * as captureFiles from './captureFiles.ts';
export * as dropLogs from './dropLogs.ts';
export { rowsOf } from './forwardRows.ts';
