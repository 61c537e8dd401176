import { expect } from 'chai';
import { address } from '../net/index.ts';
import type { Doubt, Need } from '../rules/index.ts';
import { doubtText } from './doubts.ts';
import { needLamp, needLine, needParagraph } from './needs.ts';
import { reasonLamp, reasonLine, reasonParagraph, type AskReason } from './reasons.ts';

/** One of each kind: a kind that is added has to stand here too. */
const DOUBTS: { readonly [K in Doubt['doubt']]: readonly [Extract<Doubt, { doubt: K }>, string] } = {
  'not-modelled': [
    { doubt: 'not-modelled', part: 'match', text: '-m owner' },
    'the match -m owner is not modelled',
  ],
  'chain-not-modelled': [
    { doubt: 'chain-not-modelled', chain: 'in', family: 'netdev', table: 't', hook: 'ingress' },
    'chain in of the netdev table t (hook ingress) is not modelled',
  ],
  word: [{ doubt: 'word', field: 'action', text: 'perhaps' }, 'its action, “perhaps”, is not understood'],
  'not-shown': [
    { doubt: 'not-shown', fields: ['program', 'ports'] },
    'the listing does not show its program, its ports',
  ],
  narrowed: [{ doubt: 'narrowed', text: 'wireless' }, 'it is for “wireless” only'],
  'both-directions': [
    { doubt: 'both-directions' },
    'a rule for both directions on one interface is not modelled',
  ],
  'range-lengths': [{ doubt: 'range-lengths' }, 'the inside range is not as long as the outside range'],
  'ports-of-which-protocol': [
    { doubt: 'ports-of-which-protocol' },
    'which of its ports belong to which protocol is not understood',
  ],
  'which-list': [{ doubt: 'which-list' }, 'which of the lists in it belong to this machine is not known'],
  'further-list': [
    { doubt: 'further-list' },
    'whether a further list also belongs to this machine is not known (lists add up)',
  ],
  'rows-not-listed': [{ doubt: 'rows-not-listed' }, 'the rows of the host firewall have not been listed'],
  'policy-rows': [
    { doubt: 'policy-rows' },
    'the rows of the group policy, which count instead of its own, have not been listed',
  ],
  'rows-perhaps-not-whole': [
    { doubt: 'rows-perhaps-not-whole' },
    'whether the listing holds all rows of the host firewall is not known',
  ],
  'forwards-perhaps-not-whole': [
    { doubt: 'forwards-perhaps-not-whole' },
    'whether the table shows all forwards is not known',
  ],
  'portal-not-known': [
    { doubt: 'portal-not-known' },
    'the forwards are kept in the carrier’s portal, and its list is not known',
  ],
  'exposed-host': [
    { doubt: 'exposed-host' },
    'it has an exposed host, and which machine that is is not known',
  ],
  'which-table': [
    { doubt: 'which-table' },
    'it stands in one of several tables only, and which of them is the newest is not known',
  ],
  'host-firewall-on': [{ doubt: 'host-firewall-on' }, 'whether the host firewall is on has not been listed'],
  'lets-nothing-in': [
    { doubt: 'lets-nothing-in' },
    'whether the host firewall lets nothing in at all, whatever its rows say, is not known',
  ],
  'filter-of-forwarded': [
    { doubt: 'filter-of-forwarded' },
    'whether the filter’s own rules pass what is forwarded is not known',
  ],
  'translations-listed': [
    { doubt: 'translations-listed' },
    'its own translations may lead the packet to another port',
  ],
  'front-end-default': [
    { doubt: 'front-end-default' },
    'what the host firewall does with what no row names is not shown (its verbose listing says it)',
  ],
  'application-firewall': [
    { doubt: 'application-firewall' },
    'whether the firewall for programs lets the program take connections is not known',
  ],
  'later-row-claims': [
    { doubt: 'later-row-claims', row: 'Recorder', to: '192.168.50.44' },
    'row “Recorder” claims the same port for 192.168.50.44; which of the two the device uses is not known',
  ],
  'mapping-there': [
    { doubt: 'mapping-there', protocol: 'udp', port: 28410, until: 'noon' },
    'whether the mapping of udp 28410, which ends at noon, is still there is not known',
  ],
  'earlier-packets': [
    { doubt: 'earlier-packets', what: '-m recent' },
    '-m recent depends on what came before',
  ],
  'limit-per-sender': [{ doubt: 'limit-per-sender' }, 'a rate limit kept for each sender'],
  'shield-later': [
    { doubt: 'shield-later' },
    'the carrier’s shield drops unsolicited packets only after a while',
  ],
  'address-shared': [
    { doubt: 'address-shared' },
    'the carrier says that the address is shared with others, and the gateway holds one of its own',
  ],
  'client-approved': [
    { doubt: 'client-approved' },
    'which clients the carrier’s shield lets through is not known',
  ],
  'carrier-notice': [
    { doubt: 'carrier-notice', about: 'shield', text: 'we protect you' },
    'the carrier writes “we protect you”',
  ],
  'unread-notice': [
    { doubt: 'unread-notice', file: 'evidence/carrier/letter.txt' },
    'what the carrier’s text letter.txt says is not understood',
  ],
  'changed-since': [
    { doubt: 'changed-since', title: 'row added' },
    'it was changed after what is known of it was taken (row added)',
  ],
  'group-members': [{ doubt: 'group-members', group: 'app' }, 'who belongs to the group app is not known'],
  'table-cut-off': [
    { doubt: 'table-cut-off', table: 'filter' },
    'the listing of table filter is not whole, or stands there twice; rules may be missing',
  ],
  'nat-not-listed': [
    { doubt: 'nat-not-listed' },
    'the nat table has not been listed (ask for iptables-save, or iptables -t nat -L -n -v)',
  ],
  'filter-beside-forwards': [
    { doubt: 'filter-beside-forwards', rows: 1 },
    'its table of 1 filter rule stands beside the forwards, and how the two go together is not ' +
      'known (fill in the device, with its rules)',
  ],
  'active-profile': [{ doubt: 'active-profile' }, 'which network profile is active is not known'],
  stealth: [
    { doubt: 'stealth' },
    'whether the host firewall holds back the refusal of a port on which nothing listens is not known',
  ],
  'port-of-program': [
    { doubt: 'port-of-program', program: 'tided.exe' },
    'whether the port belongs to the program tided.exe is not known',
  ],
  hairpin: [
    { doubt: 'hairpin' },
    'whether the gateway turns inside connections to its outside address round (hairpin) is not known',
  ],
  'answering-line': [
    { doubt: 'answering-line' },
    'by which of its lines the gateway sends the answer is not known',
  ],
  'address-of-other-line': [
    { doubt: 'address-of-other-line', line: 'wan2' },
    'whether the carrier of wan2 lets the address of another line out is not known',
  ],
  'relay-hides-client': [
    { doubt: 'relay-hides-client' },
    'whether the relay hides the client’s address is not known',
  ],
  'lease-holds': [
    { doubt: 'lease-holds', port: 9000, until: 'noon' },
    'whether the lease of port 9000, which ends at noon, still holds is not known',
  ],
  'firewall-answers': [
    { doubt: 'firewall-answers' },
    'whether the firewall itself answers on this port is not known',
  ],
  'filter-sees': [
    { doubt: 'filter-sees', what: 'zone' },
    'whether the filter sees the zone before or after translation is not known',
  ],
  row: [
    { doubt: 'row', number: 3, name: 'Radio', of: { doubt: 'narrowed', text: 'x' } },
    'row 3 (Radio): it is for “x” only',
  ],
  said: [{ doubt: 'said', text: 'as the owner says' }, 'as the owner says'],
};

const A = address('192.168.50.20');
const ENDPOINT = { address: A, port: 8214 };

/** Each kind at the stop's own gate, and in a sentence; the stop is called Heron. */
const NEEDS: {
  readonly [K in Need['need']]: readonly [Extract<Need, { need: K }>, lamp: string, line: string];
} = {
  condition: [
    { need: 'condition', stop: 'host', doubt: { doubt: 'limit-per-sender' }, rule: 'drop' },
    'a rate limit kept for each sender, in the rule “drop”',
    'Heron: a rate limit kept for each sender, in the rule “drop”',
  ],
  'over-time': [
    { need: 'over-time', doubt: { doubt: 'shield-later' } },
    'the carrier’s shield drops unsolicited packets only after a while',
    'the carrier’s shield drops unsolicited packets only after a while',
  ],
  circle: [
    { need: 'circle', stop: 'host', chain: 'in' },
    'the jumps of chain in go round in a circle',
    'rule set of Heron: the jumps of chain in go round in a circle',
  ],
  dice: [{ need: 'dice' }, 'the rule throws dice', 'the rule throws dice'],
  'choice-of-range': [
    { need: 'choice-of-range' },
    'which address of a range the kernel picks',
    'which address of a range the kernel picks',
  ],
  target: [
    { need: 'target', stop: 'host', rule: 'dnat' },
    'where “dnat” translates to',
    'where “dnat” of Heron translates to',
  ],
  'time-to-live': [
    { need: 'time-to-live' },
    'the time to live that the sender starts with',
    'the time to live that the sender starts with',
  ],
  'routing-rule': [
    { need: 'routing-rule', stop: 'host', priority: 99, text: 'ipproto' },
    'the routing rule 99 (ipproto) is not modelled',
    'Heron: the routing rule 99 (ipproto) is not modelled',
  ],
  'route-words': [
    { need: 'route-words', stop: 'host', text: 'encap' },
    'a route with encap is not modelled',
    'Heron: a route with encap is not modelled',
  ],
  spread: [
    { need: 'spread', stop: 'host', ways: 2 },
    'connections are spread over 2 ways; which one this takes is not said',
    'Heron spreads connections over 2 ways; which one this takes is not said',
  ],
  addresses: [{ need: 'addresses', stop: 'host' }, 'its addresses', 'the addresses of Heron'],
  routes: [{ need: 'routes', stop: 'host', family: 6 }, 'its routes (IPv6)', 'the routes of Heron (IPv6)'],
  rules: [
    { need: 'rules', stop: 'host', family: 4 },
    'its firewall rules (IPv4)',
    'the firewall rules of Heron (IPv4)',
  ],
  interface: [
    { need: 'interface', stop: 'host', interface: 'eno1' },
    'the interface eno1',
    'the interface eno1 of Heron',
  ],
  'interface-of-route': [
    { need: 'interface-of-route', stop: 'host', destination: A },
    'the interface of the route to 192.168.50.20',
    'the interface of the route to 192.168.50.20 on Heron',
  ],
  'kind-of-packet': [
    { need: 'kind-of-packet', stop: 'host', kind: 'multicast' },
    'what it does with a multicast packet',
    'what Heron does with a multicast packet',
  ],
  'to-itself': [
    { need: 'to-itself', stop: 'host' },
    'what it does with a packet to itself',
    'what Heron does with a packet to itself',
  ],
  holder: [
    { need: 'holder', stop: 'host', interface: 'eno1', address: A, mac: '02:00:00:00:00:01' },
    'which machine has 192.168.50.20 (02:00:00:00:00:01) on eno1',
    'which machine has 192.168.50.20 (02:00:00:00:00:01) on eno1 of Heron',
  ],
  sender: [
    { need: 'sender', endpoint: ENDPOINT },
    'which machine 192.168.50.20:8214 is',
    'which machine 192.168.50.20:8214 is',
  ],
  'default-gateway': [
    { need: 'default-gateway', stop: 'host' },
    'its default gateway',
    'the default gateway of Heron',
  ],
  listeners: [
    { need: 'listeners', stop: 'host', transport: 'tcp', port: 8214 },
    'what listens (tcp 8214)',
    'what listens on Heron (tcp 8214)',
  ],
  'own-listener': [
    { need: 'own-listener', stop: 'host', transport: 'udp', endpoint: ENDPOINT },
    'whether it listens on udp 192.168.50.20:8214 itself',
    'whether Heron itself listens on udp 192.168.50.20:8214',
  ],
  'dual-stack': [
    { need: 'dual-stack', stop: 'host', transport: 'tcp', port: 5432, program: 'postgres' },
    'whether postgres takes IPv4 on tcp 5432 too',
    'whether postgres on Heron takes IPv4 on tcp 5432 too (the listing shows “:::5432” either way)',
  ],
  'reverse-path': [
    { need: 'reverse-path', stop: 'host', interface: 'eno1' },
    'its reverse-path setting (net.ipv4.conf.eno1.rp_filter)',
    'the reverse-path setting of Heron (net.ipv4.conf.eno1.rp_filter)',
  ],
  forwarding: [
    { need: 'forwarding', stop: 'host', setting: 'net.ipv4.ip_forward' },
    'whether it forwards (net.ipv4.ip_forward)',
    'whether Heron forwards (net.ipv4.ip_forward)',
  ],
  'public-address-turned': [
    { need: 'public-address-turned', stop: 'host' },
    'which public address it turns to the machine',
    'which public address Heron turns to the machine',
  ],
  'public-address-of-private': [
    { need: 'public-address-of-private', stop: 'host' },
    'which public address leads to it: its own are private',
    'which public address leads to Heron, whose own are private',
  ],
  'outside-address': [
    { need: 'outside-address', stop: 'host' },
    'its outside address',
    'which outside address Heron has',
  ],
  'try-differs': [
    { need: 'try-differs', tried: 'lost', worked: 'answered' },
    'a try was lost',
    'when it was tried it was lost, and by all that is known here it would be answered: something ' +
      'that was taken for granted does not hold',
  ],
  'claimed-address': [
    { need: 'claimed-address', stop: 'host', address: A },
    'whether a mapping of it answers for 192.168.50.20',
    'whether a mapping of Heron answers for 192.168.50.20, which lies in its own network outside',
  ],
  'sender-port': [
    { need: 'sender-port' },
    'the port that the client sends from',
    'the port that the client sends from, which a list looks at',
  ],
  'router-before': [
    { need: 'router-before', stop: 'host', address: A },
    'its outside address 192.168.50.20 is private: which router before it forwards',
    'the outside address of Heron, 192.168.50.20, is private: which router before it forwards',
  ],
};

const names = (id: string | null): string => (id === 'host' ? 'Heron' : 'Gateway');

describe('the words of doubts', () => {
  for (const [kind, [doubt, text]] of Object.entries(DOUBTS))
    it(kind, () => expect(doubtText(doubt)).to.equal(text));

  it('several filter rules, and a row without a name', () => {
    expect(doubtText({ doubt: 'filter-beside-forwards', rows: 4 })).to.contain('4 filter rules');
    expect(doubtText({ doubt: 'row', number: 2, name: null, of: { doubt: 'stealth' } })).to.match(/^row 2: /);
  });
});

describe('the words of needs', () => {
  for (const [kind, [need, lamp, line]] of Object.entries(NEEDS))
    it(kind, () => {
      expect(needLamp(need)).to.equal(lamp);
      expect(needLine(need, names)).to.equal(line);
      expect(needParagraph(need, names)).to.equal(`The evidence does not say it yet: ${line}.`);
    });

  it('an address on a network, and one that nobody is known to have', () => {
    const holder = { need: 'holder', stop: 'host', address: A, mac: null } as const;
    expect(needLine({ ...holder, interface: 'eno1' }, names)).to.equal(
      'who has 192.168.50.20 on eno1 of Heron',
    );
    expect(needLine({ ...holder, interface: null }, names)).to.equal(
      'which machine has 192.168.50.20 on the network of Heron',
    );
    expect(
      needLine({ need: 'condition', stop: 'host', doubt: { doubt: 'stealth' }, rule: null }, names),
    ).to.not.contain('in the rule');
  });
});

describe('the words of what is asked for', () => {
  const REASONS: readonly (readonly [AskReason, lamp: string, line: string, paragraph: string])[] = [
    [
      { why: 'changed', title: 'Add a forward' },
      'it was changed (Add a forward), and what is here is from before',
      'the gateway was changed (Add a forward), and what is here is from before',
      'It was changed (Add a forward), and what is here is from before.',
    ],
    [
      { why: 'seen-otherwise' },
      'a try shows something else than what is known of it',
      'a try shows something else than what is known of the gateway',
      'A try shows something else than what is known of it.',
    ],
    [
      { why: 'dials' },
      'nobody has said what the client dials',
      'nobody has said what the client dials',
      'Nobody has said what the client dials.',
    ],
    [
      { why: 'not-looked-up', name: 'play.example.net' },
      'play.example.net has not been looked up',
      'play.example.net has not been looked up',
      'play.example.net has not been looked up.',
    ],
    [
      { why: 'outside-address' },
      'its outside address is not known',
      'the outside address of the gateway is not known',
      'Its outside address is not known.',
    ],
    [
      { why: 'outside-not-public' },
      'its outside address is not public; what the internet sees tells what stands before it',
      'the outside address of the gateway is not public; what the internet sees tells what stands before it',
      'Its outside address is not public; what the internet sees tells what stands before it.',
    ],
    [
      { why: 'forwards' },
      'its forwards are not known',
      'the forwards of the gateway are not known',
      'Its forwards are not known.',
    ],
    [
      { why: 'addresses' },
      'its addresses are not known',
      'the addresses of the gateway are not known',
      'Its addresses are not known.',
    ],
    [
      { why: 'rules' },
      'its firewall is not known',
      'the firewall of the gateway is not known',
      'Its firewall is not known.',
    ],
    [
      { why: 'way-out' },
      'its way out is not known',
      'the way out of the gateway is not known',
      'Its way out is not known.',
    ],
    [
      { why: 'listeners' },
      'what listens is not known',
      'what listens on the gateway is not known',
      'What listens is not known.',
    ],
    [
      { why: 'need', need: { need: 'addresses', stop: 'gateway' } },
      'its addresses',
      'the addresses of the gateway',
      'Its addresses.',
    ],
  ];
  for (const [reason, lamp, line, paragraph] of REASONS)
    it(reason.why, () => {
      expect(reasonLamp(reason)).to.equal(lamp);
      expect(reasonLine(reason, 'gateway', names)).to.equal(line);
      expect(reasonParagraph(reason)).to.equal(paragraph);
    });
});
