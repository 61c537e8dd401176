export {
  ADDRESS_LENGTH,
  MAX_BITS,
  address,
  formatAddress,
  parseAddress,
  sameAddress,
  unmapped,
  type Address,
  type Family,
} from './address.ts';
export {
  ALL_ADDRESSES,
  NO_ADDRESSES,
  addressComplement,
  addressDifference,
  addressIntersection,
  addressRange,
  addressSet,
  addressUnion,
  addressUnionOf,
  hasAddress,
  isEmptyAddressSet,
  sameAddressSet,
  toPrefixes,
  type AddressSet,
} from './addressSet.ts';
export {
  SIDE,
  addressBits,
  isEmptyBox,
  isWithin,
  join,
  mayMeet,
  meet,
  moved,
  sideLine,
  sideOfAddresses,
  splitBox,
  wholeBox,
  wholeSide,
  withSide,
  without,
  type Box,
  type Point,
  type Side,
  type SideIndex,
} from './boxes.ts';
export { formatEndpoint, parseEndpoint, parseTarget, type Endpoint, type Transport } from './endpoint.ts';
export { includes, normalise, type Interval, type IntervalSet, type Line } from './intervals.ts';
export { addressKind, isReachable } from './kinds.ts';
export { PROTOCOL, formatHeader, reversed, sameEndpoint, sameHeader, type Header } from './packet.ts';
export {
  ALL_PORTS,
  formatPorts,
  parsePort,
  parsePortRange,
  portComplement,
  portDifference,
  portIntersection,
  portSet,
  portUnion,
  type PortSet,
} from './ports.ts';
export {
  formatPrefix,
  maskLength,
  parsePrefix,
  prefix,
  prefixContains,
  prefixInterval,
  prefixOf,
  type Prefix,
} from './prefix.ts';
export { PROTOCOL_NUMBER, SERVICE_PORT, servicePort } from './protocols.ts';
export type { AddressKind, KindRow } from './kindRow.ts';
export { KIND_TABLE } from './kindTable.ts';
