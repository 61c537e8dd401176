import { expect } from 'chai';
import { address } from '../net/index.ts';
import type { Need } from '../rules/index.ts';
import { needLamp, needLine, needParagraph } from './needs.ts';

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
