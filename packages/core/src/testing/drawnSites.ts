import fc from 'fast-check';
import { parseEndpoint, parseTarget, type Header } from '../net/index.ts';
import { testSite } from './site.ts';

/**
 * Rules over a small universe, in nft's words; the evaluator, which the kernel judges, is the model that
 * flood is held against.
 */
export const SOURCES = ['198.51.100.20', '198.51.100.23', '198.51.100.24', '192.0.2.9'] as const;
export const PORTS = [80, 81, 82, 8214] as const;
const SPORT = 40000;

const source = fc.constantFrom(
  'ip saddr 198.51.100.23',
  'ip saddr 198.51.100.20-198.51.100.23',
  'ip saddr != 198.51.100.0/24',
  'ip saddr { 192.0.2.9, 198.51.100.24 }',
  '',
);
const port = fc.constantFrom(
  'tcp dport 80',
  'tcp dport 80-81',
  'tcp dport != 82',
  'tcp dport { 81, 8214 }',
  'tcp sport 40000',
  'tcp dport > 81',
  'ip saddr . tcp dport { 198.51.100.23 . 80, 192.0.2.9 . 81 }',
  '',
);
/** The second half holds what nobody knows: chance, time to live, matches that are not modelled. */
const extra = fc.constantFrom(
  '',
  'ct state new',
  'iifname "wan"',
  'meta mark 1',
  'fib daddr type local',
  'fib saddr . iif oif exists',
  'ct original proto-dst 80',
  'ct status dnat',
  'meta nfproto ipv4',
  'limit rate 5/second',
  'ip ttl > 60',
  'meta cpu 1',
);
const verdict = fc.constantFrom(
  'accept',
  'drop',
  'reject',
  'return',
  'jump more',
  'meta mark set 1',
  'counter',
  'tcp dport vmap { 80 : accept, 81 : drop, 8214 : jump more }',
);
const rule = fc
  .tuple(source, port, extra, verdict)
  .map((parts) => parts.filter((p) => p !== '').join(' '))
  .filter((r) => !/(saddr.*ip saddr)|(tcp dport.*tcp dport.*vmap.*saddr)/.test(r));
const forward = fc.constantFrom(
  'tcp dport 80 dnat to 192.168.50.20',
  'tcp dport 80-81 dnat to 192.168.50.20:8214',
  'ip saddr 198.51.100.23 tcp dport 82 dnat to 192.168.50.20:80',
  'tcp dport 8214 dnat to 192.168.50.20:80-82',
  'dnat to tcp dport map { 82 : 192.168.50.20, 81 : 192.168.50.1 }',
  'tcp dport 8214 redirect to :80',
  'tcp dport 82 dnat to 192.168.50.20-192.168.50.22:80',
  'tcp dport 81 dnat to 127.0.0.1:80',
  'limit rate 3/minute tcp dport 80 dnat to 192.168.50.20:82',
  'dnat to 203.0.113.50',
);
const policy = fc.constantFrom('accept', 'drop');

const chain = (name: string, head: string, rules: readonly string[]): string =>
  ` chain ${name} {\n${head}${rules.map((r) => `  ${r}\n`).join('')} }\n`;

/** What of a site's machines is not known, and settings that change what they let in. */
const unknowns = fc.record({
  guardKnown: fc.boolean(),
  socketsKnown: fc.boolean(),
  forwardingKnown: fc.boolean(),
  localnet: fc.boolean(),
  sourceCheck: fc.constantFrom('0', '1', null),
});

export const siteArbitrary = fc
  .record({
    forwards: fc.array(forward, { maxLength: 3 }),
    passing: fc.array(rule, { maxLength: 5 }),
    guarding: fc.array(rule, { maxLength: 4 }),
    more: fc.array(rule, { maxLength: 3 }),
    p1: policy,
    p2: policy,
    open: unknowns,
  })
  .map(({ forwards, passing, guarding, more, p1, p2, open }) => {
    const inner = more.map((r) => r.replace('jump more', 'accept').replace(/, 8214 : jump more/, ''));
    const filter = ` type filter hook`;
    const rules =
      'table ip nat {\n' +
      `${chain('pre', '  type nat hook prerouting priority dstnat; policy accept;\n', forwards)}}\n` +
      'table inet f {\n' +
      `${chain('more', '', inner)}` +
      `${chain('forward', ` ${filter} forward priority filter; policy ${p1};\n`, passing)}}\n`;
    const guard =
      'table inet g {\n' +
      `${chain('more', '', inner)}` +
      `${chain('input', ` ${filter} input priority filter; policy ${p2};\n`, guarding)}}\n`;
    const site = testSite({
      client: {
        role: 'client',
        interfaces: { eth0: ['198.51.100.23/24', '198.51.100.20/24', '198.51.100.24/24', '192.0.2.9/32'] },
        routes: ['default via 198.51.100.1 dev eth0'],
      },
      gateway: {
        role: 'gateway',
        interfaces: { wan: ['198.51.100.1/24', '203.0.113.50/32'], lan: ['192.168.50.1/24'] },
        routes: ['192.0.2.9/32 via 198.51.100.23 dev wan'],
        rules,
        sockets: ['tcp 0.0.0.0:80', 'tcp 127.0.0.1:80'],
        settings: {
          'net.ipv4.conf.all.route_localnet': open.localnet ? '1' : '0',
          ...(open.sourceCheck === null ? {} : { 'net.ipv4.conf.wan.rp_filter': open.sourceCheck }),
        },
      },
      host: {
        interfaces: { eno1: ['192.168.50.20/24', '192.168.50.22/24'] },
        routes: ['default via 192.168.50.1 dev eno1'],
        sockets: open.socketsKnown ? ['tcp 0.0.0.0:80', 'tcp 0.0.0.0:82', 'tcp 192.168.50.20:8214'] : null,
        rules: open.guardKnown ? guard : null,
      },
    });
    const machines = site.machines.map((m) => {
      if (m.id !== 'gateway') return m;
      const settings = new Map(m.settings);
      if (!open.forwardingKnown) settings.delete('net.ipv4.ip_forward');
      if (open.sourceCheck === null) settings.delete('net.ipv4.conf.wan.rp_filter');
      return { ...m, settings };
    });
    return { site: { ...site, machines }, text: `${rules}${guard}${JSON.stringify(open)}` };
  });

export const packet = (from: string, dport: number): Header => {
  const target = parseTarget(`203.0.113.50:${dport}/tcp`)!;
  return {
    transport: target.transport,
    source: parseEndpoint(`${from}:${SPORT}`)!,
    destination: { address: target.address, port: target.port },
  };
};
