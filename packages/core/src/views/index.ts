export { STAND_IN_CLIENT, aimOf, packetFor, type Aim } from './bench/packet.ts';
export {
  readingView,
  shelfView,
  type ContradictionView,
  type ReadingView,
  type ShelfView,
} from './bench/shelf.ts';
export type {
  BenchView,
  CrossingView,
  EndpointTab,
  Lamp,
  MendView,
  NextView,
  ProposalView,
  RehearsalSide,
  StopLamp,
  StopDetail,
  StopView,
  TrialView,
  VerdictView,
  WireLane,
  WireView,
} from './bench/types.ts';
export { endpointKey } from './bench/endpoints.ts';
export { benchView } from './bench/view.ts';
export { vantageGrid, type VantageCell, type VantageGrid } from './bench/vantages.ts';
export { stopNames } from './bench/names.ts';
export { handover, type Handover, type HandoverBlock } from './handover/handover.ts';
export { handoverMarkdown } from './handover/markdown.ts';
export { handoverPage } from './handover/page.ts';
export { diagnosis, type Diagnosis, type DiagnosisMend } from './diagnosis/diagnosis.ts';
export {
  shrinking,
  suspicionView,
  type Shrinking,
  type SuspectView,
  type SuspicionView,
} from './diagnosis/suspicion.ts';
export type { NextCheck } from './diagnosis/openChecks.ts';
export type { FoundFault } from './diagnosis/foundFault.ts';
export { openingsView, type OpeningsView } from './openings/openings.ts';
export { deskLine, type DeskLine, type Turn } from './desk/desk.ts';
export { endingStop } from './bench/ending.ts';
export { recognised, type Adjustments, type Recognised, type Shapes } from './intake/recognised.ts';
export { tableOf } from './intake/table.ts';
export { asAnswer } from './intake/answer.ts';
export { placesView, type HeaderText, type PlacesView, type SeenThere } from './traffic/places.ts';
export { captureView } from './traffic/captureView.ts';
export { logView } from './traffic/logView.ts';
export {
  MOST_ROWS,
  trafficAim,
  wantedOf,
  type TrafficAim,
  type TrafficRow,
  type TrafficView,
} from './traffic/traffic.ts';
