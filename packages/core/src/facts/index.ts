export type {
  AddressFact,
  Coverage,
  Fact,
  FactKind,
  ForwardFact,
  Gap,
  InterfaceFact,
  IptablesFact,
  LabelKind,
  LabelledFact,
  LeaseFact,
  NameFact,
  NeighbourFact,
  NotedFact,
  PolicyFact,
  ReadPart,
  Reading,
  RouteFact,
  SettingFact,
  SocketFact,
} from './facts.ts';
export { known, open, openFields, saidOr, type Said } from './field.ts';
export {
  GROUPS,
  isTold,
  type AllowRowRecord,
  type ConversationRecord,
  type HostProfileRecord,
  type HostRowRecord,
  type ListenRecord,
  type MappingRecord,
  type NoticeRecord,
  type OutsideTestRecord,
  type SessionRecord,
  type SessionTuple,
  type SubnetRowRecord,
  type ToldFact,
  type ToldFactOf,
  type ToldKind,
  type ToldValues,
  type TryRecord,
} from './told.ts';
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
