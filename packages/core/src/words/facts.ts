import { isTold, saidOr, type Fact, type ForwardFact, type ToldKind } from '../facts/index.ts';
import { addressKind, formatPorts, parseAddress } from '../net/index.ts';
import { doubtText } from './doubts.ts';
import { addressWithKind } from './endings.ts';

type Of<K extends Fact['kind']> = Extract<Fact, { readonly kind: K }>;

const withKind = (text: string): string => {
  const a = parseAddress(text);
  return a && addressKind(a).kind !== 'private' ? addressWithKind(a) : text;
};

/** What people call each kind of thing that was told. */
const LABELS: Readonly<Record<ToldKind, string>> = {
  'host-row': 'Firewall row',
  'host-profile': 'Firewall profile',
  'active-profile': 'Kind of network',
  'allow-row': 'Lets in',
  'allow-refuses': 'Refusing rows',
  'subnet-row': 'Subnet list',
  'allow-nothing': 'Lets in',
  mapping: 'Asked-for mapping',
  'mapping-reply': 'Asked-for mapping',
  'bsd-rule': 'Filter rule',
  'bsd-rules-listed': 'Packet filter',
  'bsd-enabled': 'Packet filter',
  'front-end': 'Host firewall',
  'application-firewall': 'Firewall for programs',
  'application-blocks-all': 'Firewall for programs blocks all',
  application: 'Program in its firewall',
  'filter-row': 'Filter row',
  'zone-rule': 'Filter rule',
  'address-mapping': 'Whole address',
  'zone-line': 'Interface',
  'named-address': 'Named address',
  'filter-order': 'Order of rules and translations',
  'external-address': 'Outside address',
  session: 'Session',
  try: 'Logged packet',
  conversation: 'Captured connection',
  outcome: 'Outcome of a try',
  'refused-client': 'Refused client',
  hops: 'Hops',
  'outside-test': 'Test from outside',
  'carrier-notice': 'Notice',
  'portal-table': 'Carrier’s portal',
  'program-port': 'Set port',
  'program-bind': 'Set to bind to',
  listen: 'Set to listen',
  'program-setting': 'Setting',
  'program-access': 'Who may use it',
  announced: 'Sends clients to',
  'unpublished-port': 'Not published',
  'kept-back': 'Ports kept back by the system',
  'data-ports': 'Ports of further connections',
};

/** What a noted fact is, for people. */
const TOPICS: Readonly<Record<string, string>> = {
  bsdTranslations: 'Translation',
  counters: 'Rule counters',
  localAddress: 'Own address',
};
const plainTopic = (topic: string): string => {
  const words = topic.replaceAll(/([a-z])([A-Z])/g, '$1 $2').toLowerCase();
  return words.charAt(0).toUpperCase() + words.slice(1);
};

const hopText = ({ via, dev }: Of<'route'>['hops'][number]): string =>
  [via && `via ${via}`, dev && `by ${dev}`].filter(Boolean).join(' ');

function linkText({ adminUp, carrier }: Of<'interface'>): string {
  if (adminUp === false) return 'switched off';
  return carrier === false ? 'no link' : 'up';
}

function answersText({ status, answers }: Of<'name'>): string {
  if (status !== 'NOERROR') return status;
  return answers.length > 0 ? answers.map(withKind).join(', ') : 'no such record';
}

/** A fact as a label and a value, for a list. */
export function factText(fact: Fact): { label: string; value: string } {
  if (isTold(fact)) return { label: LABELS[fact.kind], value: fact.text };
  switch (fact.kind) {
    case 'interface':
      return {
        label: `Interface ${fact.name}`,
        value: linkText(fact),
      };
    case 'address':
      return { label: `Address on ${fact.interface}`, value: `${withKind(fact.address)} /${fact.prefix}` };
    case 'route':
      return {
        label: fact.to === 'default' ? 'Default route' : `Route to ${fact.to}`,
        value: `${fact.type === 'unicast' ? '' : `${fact.type} `}` + fact.hops.map(hopText).join(', '),
      };
    case 'policy':
      return {
        label: `Routing rule ${fact.priority}`,
        value: [
          fact.from && `from ${fact.from}`,
          fact.to && `to ${fact.to}`,
          `${fact.action} ${fact.table ?? ''}`,
        ]
          .filter(Boolean)
          .join(' '),
      };
    case 'neighbour':
      return {
        label: 'Neighbour',
        value: `${fact.address} ${fact.mac ?? fact.states.join(' ').toLowerCase()}`,
      };
    case 'socket':
      return {
        label:
          fact.state === 'LISTEN' || fact.state === 'UNCONN'
            ? 'Listens'
            : `Socket (${fact.state.toLowerCase()})`,
        value:
          `${fact.protocol} ` +
          `${fact.address}:${fact.port}${fact.processes[0] ? ` · ${fact.processes[0].name}` : ''}`,
      };
    case 'setting':
      return { label: fact.key, value: fact.value };
    case 'lease':
      return { label: `Lease ${fact.name ?? ''}`.trim(), value: `${fact.address} ${fact.mac ?? ''}`.trim() };
    case 'forward':
      return { label: `Forward ${fact.name ?? ''}`.trim(), value: forwardText(fact) };
    case 'labelled':
      return { label: fact.label, value: withKind(fact.value) };
    case 'name':
      return {
        label: `${fact.name} ${fact.type}`,
        value: answersText(fact),
      };
    case 'noted':
      return { label: TOPICS[fact.topic] ?? plainTopic(fact.topic), value: fact.text };
    case 'nft':
      return {
        label: 'Packet filter (nft)',
        value:
          `${fact.objects.filter((o) => o.is === 'rule').length} rules in ` +
          `${fact.objects.filter((o) => o.is === 'chain').length} chains`,
      };
    case 'iptables':
      return {
        label: `Packet filter (iptables, IPv${fact.family})`,
        value: `${fact.tables.reduce((n, t) => n + t.rules.length, 0)} rules in ${fact.tables.length} tables`,
      };
  }
}

/** `tcp+udp 28410-28415 → 192.168.50.20:28410 (off)`; a question mark where a field is open. */
function forwardText(f: ForwardFact): string {
  const protocol = saidOr(f.protocol, '?');
  const outside = 'is' in f.outside ? formatPorts(f.outside.is).replaceAll(', ', ',') : '?';
  const inside = saidOr(f.inside, '?');
  const first = typeof inside === 'string' ? undefined : inside[0]?.first;
  const own = 'is' in f.outside ? f.outside.is[0]?.first : undefined;
  const to = 'is' in f.target ? f.target.is : (f.device ?? '?');
  const port = inside === 'same' ? own : first;
  const sources = saidOr(f.sources, ['?']);
  return [
    `${protocol === 'both' ? 'tcp+udp' : protocol} ${outside} → ${to}:${port ?? '?'}`,
    ...(saidOr(f.enabled, null) === null ? ['(on or off?)'] : []),
    ...(saidOr(f.enabled, null) === false ? ['(off)'] : []),
    ...(f.applied === false ? ['(not applied)'] : []),
    ...(sources ? [`for ${sources.join(', ')}`] : []),
    ...f.narrowed.map((d) => `(${doubtText(d)})`),
  ].join(' ');
}
