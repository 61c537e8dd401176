export { aimOf, packetFor, STAND_IN_CLIENT, type Aim } from './packet.ts';
export { openingsView, type OpeningsView } from './openings.ts';
export type { BenchView, CrossingView, EndpointTab, Lamp, MendView, NextView, RehearsalSide, StopDetail, StopView, VerdictView, WireLane, WireView } from './types.ts';
export { benchView, endpointKey, stopNames } from './view.ts';
