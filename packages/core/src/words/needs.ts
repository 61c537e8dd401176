import { formatAddress, formatEndpoint } from '../net/index.ts';
import type { Need } from '../rules/index.ts';
import { doubtText } from './doubts.ts';
import type { StopNames } from './named.ts';

type Of<K extends Need['need']> = Extract<Need, { readonly need: K }>;

/** What a need is called at the stop's own gate (`lamp`), and in a sentence that names the stop (`line`). */
interface Words<N> {
  readonly lamp: (n: N) => string;
  readonly line: (n: N, names: StopNames) => string;
}

const WORDS: { readonly [K in Need['need']]: Words<Of<K>> } = {
  condition: {
    lamp: (n) => `${doubtText(n.doubt)}${inRule(n.rule)}`,
    line: (n, names) => `${names(n.stop)}: ${doubtText(n.doubt)}${inRule(n.rule)}`,
  },
  'over-time': { lamp: (n) => doubtText(n.doubt), line: (n) => doubtText(n.doubt) },
  circle: {
    lamp: (n) => `the jumps of chain ${n.chain} go round in a circle`,
    line: (n, names) => `rule set of ${names(n.stop)}: the jumps of chain ${n.chain} go round in a circle`,
  },
  dice: { lamp: () => 'the rule throws dice', line: () => 'the rule throws dice' },
  'choice-of-range': {
    lamp: () => 'which address of a range the kernel picks',
    line: () => 'which address of a range the kernel picks',
  },
  target: {
    lamp: (n) => `where “${n.rule}” translates to`,
    line: (n, names) => `where “${n.rule}” of ${names(n.stop)} translates to`,
  },
  'time-to-live': {
    lamp: () => 'the time to live that the sender starts with',
    line: () => 'the time to live that the sender starts with',
  },
  'routing-rule': {
    lamp: (n) => `the routing rule ${n.priority} (${n.text}) is not modelled`,
    line: (n, names) => `${names(n.stop)}: the routing rule ${n.priority} (${n.text}) is not modelled`,
  },
  'route-words': {
    lamp: (n) => `a route with ${n.text} is not modelled`,
    line: (n, names) => `${names(n.stop)}: a route with ${n.text} is not modelled`,
  },
  spread: {
    lamp: (n) => `connections are spread over ${n.ways} ways; which one this takes is not said`,
    line: (n, names) =>
      `${names(n.stop)} spreads connections over ${n.ways} ways; which one this takes is not said`,
  },
  addresses: { lamp: () => 'its addresses', line: (n, names) => `the addresses of ${names(n.stop)}` },
  routes: {
    lamp: (n) => `its routes (IPv${n.family})`,
    line: (n, names) => `the routes of ${names(n.stop)} (IPv${n.family})`,
  },
  rules: {
    lamp: (n) => `its firewall rules (IPv${n.family})`,
    line: (n, names) => `the firewall rules of ${names(n.stop)} (IPv${n.family})`,
  },
  interface: {
    lamp: (n) => `the interface ${n.interface}`,
    line: (n, names) => `the interface ${n.interface} of ${names(n.stop)}`,
  },
  'interface-of-route': {
    lamp: (n) => `the interface of the route to ${formatAddress(n.destination)}`,
    line: (n, names) => `the interface of the route to ${formatAddress(n.destination)} on ${names(n.stop)}`,
  },
  'kind-of-packet': {
    lamp: (n) => `what it does with a ${n.kind} packet`,
    line: (n, names) => `what ${names(n.stop)} does with a ${n.kind} packet`,
  },
  'to-itself': {
    lamp: () => 'what it does with a packet to itself',
    line: (n, names) => `what ${names(n.stop)} does with a packet to itself`,
  },
  holder: {
    lamp: (n) => holderOf(n),
    line: (n, names) => `${holderOf(n)} of ${names(n.stop)}`,
  },
  sender: {
    lamp: (n) => `which machine ${formatEndpoint(n.endpoint)} is`,
    line: (n) => `which machine ${formatEndpoint(n.endpoint)} is`,
  },
  'default-gateway': {
    lamp: () => 'its default gateway',
    line: (n, names) => `the default gateway of ${names(n.stop)}`,
  },
  listeners: {
    lamp: (n) => `what listens (${n.transport} ${n.port})`,
    line: (n, names) => `what listens on ${names(n.stop)} (${n.transport} ${n.port})`,
  },
  'own-listener': {
    lamp: (n) => `whether it listens on ${n.transport} ${formatEndpoint(n.endpoint)} itself`,
    line: (n, names) =>
      `whether ${names(n.stop)} itself listens on ${n.transport} ${formatEndpoint(n.endpoint)}`,
  },
  'dual-stack': {
    lamp: (n) => `whether ${n.program ?? 'the program'} takes IPv4 on ${n.transport} ${n.port} too`,
    line: (n, names) =>
      `whether ${n.program ?? 'the program'} on ${names(n.stop)} takes IPv4 on ${n.transport} ` +
      `${n.port} too (the listing shows “:::${n.port}” either way)`,
  },
  'reverse-path': {
    lamp: (n) => `its reverse-path setting (net.ipv4.conf.${n.interface}.rp_filter)`,
    line: (n, names) =>
      `the reverse-path setting of ${names(n.stop)} (net.ipv4.conf.${n.interface}.rp_filter)`,
  },
  forwarding: {
    lamp: (n) => `whether it forwards (${n.setting})`,
    line: (n, names) => `whether ${names(n.stop)} forwards (${n.setting})`,
  },
  'public-address-turned': {
    lamp: () => 'which public address it turns to the machine',
    line: (n, names) => `which public address ${names(n.stop)} turns to the machine`,
  },
  'public-address-of-private': {
    lamp: () => 'which public address leads to it: its own are private',
    line: (n, names) => `which public address leads to ${names(n.stop)}, whose own are private`,
  },
  'outside-address': {
    lamp: () => 'its outside address',
    line: (n, names) => `which outside address ${names(n.stop)} has`,
  },
  'claimed-address': {
    lamp: (n) => `whether a mapping of it answers for ${formatAddress(n.address)}`,
    line: (n, names) =>
      `whether a mapping of ${names(n.stop)} answers for ${formatAddress(n.address)}, which lies in ` +
      'its own network outside',
  },
  'sender-port': {
    lamp: () => 'the port that the client sends from',
    line: () => 'the port that the client sends from, which a list looks at',
  },
  'try-differs': {
    lamp: (n) => `a try was ${n.tried}`,
    line: (n) =>
      `when it was tried it was ${n.tried}, and by all that is known here it would be ${n.worked}: ` +
      'something that was taken for granted does not hold',
  },
  'router-before': {
    lamp: (n) =>
      `its outside address ${formatAddress(n.address)} is private: which router before it forwards`,
    line: (n, names) =>
      `the outside address of ${names(n.stop)}, ${formatAddress(n.address)}, is private: which ` +
      'router before it forwards',
  },
};

const inRule = (rule: string | null): string => (rule === null ? '' : `, in the rule “${rule}”`);

function holderOf({ address, mac, interface: device }: Of<'holder'>): string {
  const where = device === null ? 'on the network' : `on ${device}`;
  return mac === null && device !== null
    ? `who has ${formatAddress(address)} ${where}`
    : `which machine has ${formatAddress(address)}${mac === null ? '' : ` (${mac})`} ${where}`;
}

const wordsOf = (need: Need): Words<Need> => WORDS[need.need] as Words<Need>;

/** What has to be known, at the stop's own gate, where its name is written already. */
export const needLamp = (need: Need): string => wordsOf(need).lamp(need);

/** What has to be known, for the middle of a sentence: the stop is named. */
export const needLine = (need: Need, names: StopNames): string => wordsOf(need).line(need, names);

/** What has to be known, as a sentence of its own. */
export function needParagraph(need: Need, names: StopNames): string {
  const line = needLine(need, names);
  return `The evidence does not say it yet: ${line}.`;
}
