export { aimOf, packetFor, STAND_IN_CLIENT, type Aim } from './packet.ts';
export { readingView, shelfView, type ContradictionView, type ReadingView, type ShelfView } from './shelf.ts';
export type { BenchView, CrossingView, EndpointTab, Lamp, MendView, NextView, ProposalView, RehearsalSide, StopDetail, StopView, VerdictView, WireLane, WireView } from './types.ts';
export { benchView, endpointKey, stopNames } from './view.ts';
