import { CT_STATE, CT_STATUS, PACKET_TYPE, ROUTE_TYPE, TCP_FLAG } from '../../rules/index.ts';

/** `meta nfproto` and `meta protocol` values, folded onto the number of the first. */
export const FAMILY_NUMBER: Readonly<Record<string, number>> = { ipv4: 2, ipv6: 10, ip: 2, ip6: 10 };

/** ICMP types (RFC 792) by nft's and iptables' names. */
export const ICMP_TYPE: Readonly<Record<string, number>> = {
  'echo-reply': 0,
  'destination-unreachable': 3,
  'source-quench': 4,
  redirect: 5,
  'echo-request': 8,
  'router-advertisement': 9,
  'router-solicitation': 10,
  'time-exceeded': 11,
  'parameter-problem': 12,
  'timestamp-request': 13,
  'timestamp-reply': 14,
  'info-request': 15,
  'info-reply': 16,
  'address-mask-request': 17,
  'address-mask-reply': 18,
};

/** ICMPv6 types (RFC 4443, RFC 4861, RFC 2710) by the same names. */
export const ICMPV6_TYPE: Readonly<Record<string, number>> = {
  'destination-unreachable': 1,
  'packet-too-big': 2,
  'time-exceeded': 3,
  'parameter-problem': 4,
  'echo-request': 128,
  'echo-reply': 129,
  'mld-listener-query': 130,
  'mld-listener-report': 131,
  'mld-listener-done': 132,
  'mld-listener-reduction': 132,
  'nd-router-solicit': 133,
  'nd-router-advert': 134,
  'nd-neighbor-solicit': 135,
  'nd-neighbor-advert': 136,
  'nd-redirect': 137,
  'router-renumbering': 138,
  'ind-neighbor-solicit': 141,
  'ind-neighbor-advert': 142,
  'mld2-listener-report': 143,
};

/** `meta pkttype` words. */
export const PACKET_TYPE_NUMBER: Readonly<Record<string, number>> = PACKET_TYPE;
export const ROUTE_TYPE_NUMBER: Readonly<Record<string, number>> = ROUTE_TYPE;
export const TCP_FLAG_NUMBER: Readonly<Record<string, number>> = TCP_FLAG;
export const CT_STATE_NUMBER: Readonly<Record<string, number>> = CT_STATE;
export const CT_STATUS_NUMBER: Readonly<Record<string, number>> = CT_STATUS;
export const DIRECTION_NUMBER: Readonly<Record<string, number>> = { original: 0, reply: 1 };
