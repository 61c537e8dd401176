export { address, ADDRESS_LENGTH, formatAddress, MAX_BITS, parseAddress, sameAddress, unmapped, type Address, type Family } from './address.ts';
export { addressComplement, addressDifference, addressIntersection, addressRange, addressSet, addressUnion, ALL_ADDRESSES, hasAddress, isEmptyAddressSet, NO_ADDRESSES, sameAddressSet, toPrefixes, type AddressSet } from './addressSet.ts';
export { addressBits, isEmptyBox, isWithin, join, mayMeet, meet, moved, SIDE, sideLine, sideOfAddresses, splitBox, wholeBox, wholeSide, without, withSide, type Box, type Point, type Side, type SideIndex } from './boxes.ts';
export { formatEndpoint, parseEndpoint, parseTarget, type Endpoint, type Transport } from './endpoint.ts';
export { includes, type Interval, type IntervalSet } from './intervals.ts';
export { addressKind, isReachable, KIND_TABLE, type AddressKind, type KindRow } from './kinds.ts';
export { formatHeader, PROTOCOL, reversed, sameEndpoint, sameHeader, type Header } from './packet.ts';
export { ALL_PORTS, formatPorts, parsePort, parsePortRange, portComplement, portDifference, portIntersection, portSet, portUnion, type PortSet } from './ports.ts';
export { formatPrefix, maskLength, parsePrefix, prefix, prefixContains, prefixInterval, prefixOf, type Prefix } from './prefix.ts';
