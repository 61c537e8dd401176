import { expect } from 'chai';
import { run, testMachine } from '../../testing/index.ts';
import type { Site } from '../../site/index.ts';
import { bsdFilterProgram } from './program.ts';

const CLIENT = { role: 'client', interfaces: { eth0: ['198.51.100.23/24', '2001:db8::23/64'] } } as const;
const HOST = {
  interfaces: { en0: ['198.51.100.9/24', '2001:db8::9/64'], lo0: ['127.0.0.1/8', '::1/128'] },
  sockets: ['tcp 0.0.0.0:8214', 'udp 0.0.0.0:8214', 'tcp [::]:8214'],
};

function hostWith(rules: string, interfaces: readonly string[] | null): Site {
  const lines = rules
    .split('\n')
    .filter(Boolean)
    .map((text, i) => ({ text, source: { file: 'rules', line: i + 1 } }));
  const program = bsdFilterProgram(lines, { enabled: true, interfaces });
  return {
    machines: [
      testMachine('client', CLIENT),
      { ...testMachine('host', HOST), program: { 4: program, 6: program } },
    ],
    sharedAddresses: [],
    internet: null,
  };
}

/** `answered`, `lost`, `unknown`, or how it was refused. */
function fate(
  rules: string,
  protocol: 'tcp' | 'udp' | 'tcp6' = 'tcp',
  interfaces: readonly string[] | null = null,
) {
  const [from, to] =
    protocol === 'tcp6'
      ? ['[2001:db8::23]:40000', '[2001:db8::9]:8214/tcp']
      : ['198.51.100.23:40000', `198.51.100.9:8214/${protocol}`];
  const { outcome, shown } = run(hostWith(rules, interfaces), from, to);
  const form = shown.legs.find((l) => l.lane === 'reply')?.form;
  return outcome === 'refused' && form ? `refused, ${form}` : outcome;
}

const PASS = 'pass in all';
const BLOCK = 'block in all';

describe('rules of the BSD packet filter (pf.conf(5))', () => {
  const met: readonly (readonly [string, string, string])[] = [
    // condition of a rule that blocks; does it hit TCP 198.51.100.23:40000 > 198.51.100.9:8214, and UDP?
    ['all', 'lost', 'lost'],
    ['proto tcp all', 'lost', 'answered'],
    ['proto udp all', 'answered', 'lost'],
    ['proto 6 all', 'lost', 'answered'],
    ['proto 17 all', 'answered', 'lost'],
    ['proto { tcp, udp } all', 'lost', 'lost'],
    ['proto { tcp, icmp } all', 'lost', 'answered'],
    ['proto icmp all', 'answered', 'answered'],
    ['proto icmp6 all', 'answered', 'answered'],
    ['inet proto tcp all', 'lost', 'answered'],
    ['inet6 proto tcp all', 'answered', 'answered'],
    ['proto tcp from 198.51.100.23 to any', 'lost', 'answered'],
    ['proto tcp from 198.51.100.24 to any', 'answered', 'answered'],
    ['proto tcp from 198.51.100.0/24 to 198.51.100.9', 'lost', 'answered'],
    ['proto tcp from any to 198.51.100.23', 'answered', 'answered'],
    ['proto tcp from ! 198.51.100.23 to any', 'answered', 'answered'],
    ['proto tcp from ! 198.51.100.24 to any', 'lost', 'answered'],
    ['proto tcp from { 192.0.2.1, 198.51.100.23 } to any', 'lost', 'answered'],
    ['proto { tcp udp } from any to any port = 8214', 'lost', 'lost'],
    ['proto { tcp udp } from any to any port 8214', 'lost', 'lost'],
    ['proto tcp from any to any port = 8215', 'answered', 'answered'],
    ['proto tcp from any to any port 8000:8214', 'lost', 'answered'],
    ['proto tcp from any to any port 8215:9000', 'answered', 'answered'],
    ['proto tcp from any to any port { 80, 8214 }', 'lost', 'answered'],
    ['proto tcp from any to any port { = 80 = 443 }', 'answered', 'answered'],
    ['proto tcp from any port = 40000 to any', 'lost', 'answered'],
    ['proto tcp from any port = 8214 to any', 'answered', 'answered'],
    ['proto tcp from any port 1024:65535 to any port = ssh', 'answered', 'answered'],
    ['proto tcp from any port 1024:65535 to any port = 8214', 'lost', 'answered'],
    ['proto tcp from any to any flags S/SA', 'lost', 'answered'],
    ['proto tcp all label "web, again" ridentifier 7', 'lost', 'answered'],
    ['log (all, to pflog1) proto tcp all', 'lost', 'answered'],
    // What is not known stays open.
    ['proto tcp from <offices> to any', 'unknown', 'answered'],
    ['proto tcp from any to any port > 1023', 'unknown', 'answered'],
    ['proto tcp from any to any port = gullcast', 'unknown', 'answered'],
    ['proto tcp from any to any flags /SFRA', 'unknown', 'answered'],
    ['proto tcp all probability 20%', 'unknown', 'answered'],
    ['proto tcp all modulate', 'unknown', 'answered'],
  ];
  for (const [condition, tcp, udp] of met)
    it(`block in ${condition}: TCP ${tcp}, UDP ${udp}`, () => {
      const rules = `${PASS}\nblock in ${condition}`;
      expect([fate(rules), fate(rules, 'udp')]).to.deep.equal([tcp, udp]);
    });

  const orders: readonly (readonly [string, string, string])[] = [
    ['no rule at all: it passes', '', 'answered'],
    ['the last one decides: pass', `${BLOCK}\n${PASS}`, 'answered'],
    ['the last one decides: block', `${PASS}\n${BLOCK}`, 'lost'],
    ['the first quick one decides', `pass in quick all\nblock in quick all\n${BLOCK}`, 'answered'],
    ['a quick one before the last', `block in quick all\n${PASS}`, 'lost'],
    ['outward rules are not about it', `block out all\n${PASS}`, 'answered'],
    ['a rule without a direction is about both', `${PASS}\nblock all`, 'lost'],
    ['what passed inward is answered', `block out all`, 'answered'],
    ['drop says what block does', `${PASS}\nblock drop in all`, 'lost'],
    ['an anchor may do anything', 'anchor "front/*" all', 'unknown'],
    ['but not behind a quick rule', 'pass in quick all\nanchor "front/*" all', 'answered'],
  ];
  for (const [title, rules, expected] of orders) it(title, () => expect(fate(rules)).to.equal(expected));

  const refusals: readonly (readonly [string, string, string])[] = [
    // `return`: a reset for TCP, “port unreachable” for UDP.
    ['block return in all', 'refused, reset', 'refused, error'],
    ['block return in proto tcp all', 'refused, reset', 'answered'],
    ['block return in proto { tcp, udp } all', 'refused, reset', 'refused, error'],
    ['block return in proto udp all', 'answered', 'refused, error'],
    ['block return-rst in proto tcp all', 'refused, reset', 'answered'],
    ['block return-icmp (port-unr) in proto udp all', 'answered', 'refused, error'],
  ];
  for (const [rule, tcp, udp] of refusals)
    it(`${rule}: TCP ${tcp}, UDP ${udp}`, () => {
      expect([fate(rule), fate(rule, 'udp')]).to.deep.equal([tcp, udp]);
    });

  it('the family of a rule is the packet’s', () => {
    expect(fate('block in inet all', 'tcp6')).to.equal('answered');
    expect(fate('block in inet6 all', 'tcp6')).to.equal('lost');
    expect(fate('block in from 2001:db8::/64 to any', 'tcp6')).to.equal('lost');
  });

  const interfaces: readonly (readonly [string, readonly string[] | null, string])[] = [
    ['block in on en0 all', ['en0', 'lo0'], 'lost'],
    ['block in on lo0 all', ['en0', 'lo0'], 'answered'],
    ['block in on { lo0, en0 } all', ['en0', 'lo0'], 'lost'],
    ['block in on egress all', ['en0', 'lo0'], 'unknown'],
    ['block in on ! lo0 all', ['en0', 'lo0'], 'unknown'],
    ['block in on any all', ['en0', 'lo0'], 'unknown'],
    ['block on en0 all', ['en0', 'lo0'], 'unknown'],
    ['block in on en0 all', null, 'lost'],
  ];
  for (const [rule, names, expected] of interfaces)
    it(`${rule}, ${names ? 'interfaces known' : 'interfaces not known'}: ${expected}`, () => {
      expect(fate(rule, 'tcp', names)).to.equal(expected);
    });
});
