/**
 * What becomes of each match and target that iptables-extensions(8) documents (iptables 1.8.9). What is not
 * in these tables is open, like everything that a program of another day may print.
 */
export type Treatment =
  /** Its options decide, as documented. */
  | { readonly how: 'modelled' }
  /** Earlier packets, time or payload decide: it may hit, and it may not. */
  | { readonly how: 'chance' }
  /** Does nothing to whether a packet passes. */
  | { readonly how: 'no-effect'; readonly why: string }
  /** Not followed: the rule may hit or not, its target may do anything. */
  | { readonly how: 'open'; readonly why: string };

const modelled: Treatment = { how: 'modelled' };
const chance: Treatment = { how: 'chance' };
const noEffect = (why: string): Treatment => ({ how: 'no-effect', why });
const open = (why: string): Treatment => ({ how: 'open', why });

const NOT_SENT = 'a new connection’s first packet is never of this protocol; a rule for it is read with care';
const LOCAL = 'what the machine’s own programs and hardware add to a packet is not known';

export const MATCHES: Readonly<Record<string, Treatment>> = {
  addrtype: modelled,
  ah: open(NOT_SENT),
  bpf: open('a program of its own'),
  cgroup: open(LOCAL),
  cluster: open('which node of a cluster this is, is not known'),
  comment: noEffect('words'),
  connbytes: chance,
  connlabel: open('labels are not followed'),
  connlimit: chance,
  connmark: modelled,
  conntrack: modelled,
  cpu: open(LOCAL),
  dccp: open(NOT_SENT),
  devgroup: open('groups of interfaces are not in the evidence'),
  dscp: open('the sender’s class of service is not known'),
  dst: open(NOT_SENT),
  ecn: open('the sender’s congestion bits are not known'),
  esp: open(NOT_SENT),
  eui64: open('the sender’s hardware address is not known'),
  frag: modelled,
  hashlimit: chance,
  hbh: open(NOT_SENT),
  helper: open('which sessions a helper expects is not followed'),
  hl: modelled,
  icmp: modelled,
  icmp6: modelled,
  iprange: modelled,
  ipv6header: open(NOT_SENT),
  ipvs: open('sharing connections out between machines is not followed'),
  length: chance,
  limit: chance,
  mac: open('the sender’s hardware address is not known'),
  mark: modelled,
  mh: modelled,
  multiport: modelled,
  nfacct: chance,
  osf: open('the sender’s system is not known'),
  owner: open(LOCAL),
  physdev: open('which port of a bridge it came in by is not known'),
  pkttype: modelled,
  policy: open('encrypted ways are not followed'),
  quota: chance,
  rateest: chance,
  realm: open('realms of routes are not followed'),
  recent: chance,
  rpfilter: open('the reverse-path check of a rule is not followed'),
  rt: modelled,
  sctp: modelled,
  set: open('the members of a set of another program are not in this listing'),
  socket: open('open sockets of the moment are not known'),
  srh: open(NOT_SENT),
  state: modelled,
  statistic: chance,
  string: chance,
  tcp: modelled,
  tcpmss: open('the sender’s largest segment is not known'),
  time: chance,
  tos: open('the sender’s class of service is not known'),
  ttl: modelled,
  u32: chance,
  udp: modelled,
  udplite: modelled,
};

const RECORDS = 'writes down that the packet came by';
const DRESSES = 'changes what routers and shapers read, not where the packet goes';

export const TARGETS: Readonly<Record<string, Treatment>> = {
  ACCEPT: modelled,
  AUDIT: noEffect(RECORDS),
  CHECKSUM: noEffect('repairs a checksum'),
  CLASSIFY: noEffect(DRESSES),
  CLUSTERIP: open('which node of a cluster answers is not known'),
  CONNMARK: modelled,
  CONNSECMARK: noEffect('security labels are for local policy'),
  CT: modelled,
  DNAT: modelled,
  DNPT: open('prefix translation without sessions is not followed'),
  DROP: modelled,
  DSCP: noEffect(DRESSES),
  ECN: noEffect(DRESSES),
  HL: open('too small a hop limit ends the packet further on'),
  HMARK: open('a mark from a hash may choose another route'),
  IDLETIMER: noEffect(RECORDS),
  LED: noEffect('lights a lamp'),
  LOG: noEffect(RECORDS),
  MARK: modelled,
  MASQUERADE: modelled,
  NETMAP: modelled,
  NFACCT: noEffect(RECORDS),
  NFLOG: noEffect(RECORDS),
  NFQUEUE: open('a program decides'),
  NOTRACK: modelled,
  QUEUE: open('a program decides'),
  RATEEST: noEffect(RECORDS),
  REDIRECT: modelled,
  REJECT: modelled,
  RETURN: modelled,
  SECMARK: noEffect('security labels are for local policy'),
  SET: noEffect('adds to a set; a rule that asks for one is open'),
  SNAT: modelled,
  SNPT: open('prefix translation without sessions is not followed'),
  SYNPROXY: open('answers in the server’s place at first'),
  TCPMSS: noEffect('limits the size of segments'),
  TCPOPTSTRIP: noEffect('takes options out of a segment'),
  TEE: noEffect('sends a copy elsewhere'),
  TOS: noEffect(DRESSES),
  TPROXY: open('a program of the machine takes the packet'),
  TRACE: noEffect(RECORDS),
  TTL: open('too small a time to live ends the packet further on'),
  ULOG: noEffect(RECORDS),
};
