export type {
  AddressFact,
  Fact,
  FactKind,
  ForwardFact,
  InterfaceFact,
  IptablesFact,
  LabelKind,
  LabelledFact,
  LeaseFact,
  NameFact,
  NeighbourFact,
  NotedFact,
  PolicyFact,
  RouteFact,
  SettingFact,
  SocketFact,
} from './facts.ts';
export { known, open, openFields, saidOr, type Said } from './field.ts';
export { GROUPS, isTold, type ToldFact, type ToldFactOf, type ToldKind, type ToldValues } from './told.ts';
export type {
  AddressMappingRecord,
  FilterOrderRecord,
  NamedAddressRecord,
  ServiceRecord,
  ZoneLineRecord,
  ZoneRuleRecord,
} from './zone.ts';
export type { Plain } from './plain.ts';
export { printed, type Printed } from './printed.ts';
export { DEVICE_ROLES, FORWARD_ROLES, TABLE_ROLES, type DeviceRole, type ForwardRole } from './columns.ts';
export { plainForward } from './forward.ts';
export {
  isWithValues,
  type CutOff,
  type Missing,
  type NotEverything,
  type Problem,
  type ProblemReason,
  type ReasonWithValues,
  type StrayLine,
  type Uncounted,
  type Unreadable,
} from './problems.ts';
export type { Coverage, Gap, ReadPart, Reading } from './reading.ts';
export type {
  AllowRowRecord,
  ConversationRecord,
  HostProfileRecord,
  HostRowRecord,
  ListenRecord,
  MappingRecord,
  NoticeRecord,
  OutsideTestRecord,
  SessionRecord,
  SessionTuple,
  SubnetRowRecord,
  TryRecord,
} from './records.ts';
