import { expect } from 'chai';
import fc from 'fast-check';
import { outcome, run, testSite } from '../../crossing/testSite.ts';
import { floodSite } from '../../crossing/index.ts';
import { reaches } from '../../exposure/index.ts';
import { address } from '../../net/index.ts';

/** Rules over a small universe, in nft's words; the evaluator, which the kernel judges, is the model that flood is held against. */
const SOURCES = ['198.51.100.20', '198.51.100.23', '198.51.100.24', '192.0.2.9'] as const;
const PORTS = [80, 81, 82, 8214] as const;
const source = fc.constantFrom('ip saddr 198.51.100.23', 'ip saddr 198.51.100.20-198.51.100.23', 'ip saddr != 198.51.100.0/24', 'ip saddr { 192.0.2.9, 198.51.100.24 }', '');
const port = fc.constantFrom('tcp dport 80', 'tcp dport 80-81', 'tcp dport != 82', 'tcp dport { 81, 8214 }', 'tcp sport 40000', 'tcp dport > 81', 'ip saddr . tcp dport { 198.51.100.23 . 80, 192.0.2.9 . 81 }', '');
const extra = fc.constantFrom('', 'ct state new', 'iifname "wan"', 'meta mark 1', 'fib daddr type local', 'ct original proto-dst 80', 'ct status dnat', 'meta nfproto ipv4');
const verdict = fc.constantFrom('accept', 'drop', 'reject', 'return', 'jump more', 'meta mark set 1', 'counter', 'tcp dport vmap { 80 : accept, 81 : drop, 8214 : jump more }');
const rule = fc.tuple(source, port, extra, verdict).map((parts) => parts.filter((p) => p !== '').join(' ')).filter((r) => !/(saddr.*ip saddr)|(tcp dport.*tcp dport.*vmap.*saddr)/.test(r));
const forward = fc.constantFrom('tcp dport 80 dnat to 192.168.50.20', 'tcp dport 80-81 dnat to 192.168.50.20:8214', 'ip saddr 198.51.100.23 tcp dport 82 dnat to 192.168.50.20:80', 'tcp dport 8214 dnat to 192.168.50.20:80-82', 'dnat to tcp dport map { 82 : 192.168.50.20, 81 : 192.168.50.1 }', 'tcp dport 8214 redirect to :80');
const policy = fc.constantFrom('accept', 'drop');

const chain = (name: string, head: string, rules: readonly string[]): string => ` chain ${name} {\n${head}${rules.map((r) => `  ${r}\n`).join('')} }\n`;

describe('flood against the evaluator, packet by packet', () => {
  it('reaches exactly what single packets reach', function () {
    this.timeout(60_000);
    fc.assert(fc.property(fc.array(forward, { maxLength: 3 }), fc.array(rule, { maxLength: 5 }), fc.array(rule, { maxLength: 4 }), fc.array(rule, { maxLength: 3 }), policy, policy, (forwards, passing, guarding, more, p1, p2) => {
      const inner = more.map((r) => r.replace('jump more', 'accept').replace(/, 8214 : jump more/, ''));
      const rules = `table ip nat {\n${chain('pre', '  type nat hook prerouting priority dstnat; policy accept;\n', forwards)}}\ntable inet f {\n${chain('more', '', inner)}${chain('forward', `  type filter hook forward priority filter; policy ${p1};\n`, passing)}}\n`;
      const guard = `table inet g {\n${chain('more', '', inner)}${chain('input', `  type filter hook input priority filter; policy ${p2};\n`, guarding)}}\n`;
      const site = testSite({
        client: { role: 'client', interfaces: { eth0: ['198.51.100.23/24', '198.51.100.20/24', '198.51.100.24/24', '192.0.2.9/32'] }, routes: ['default via 198.51.100.1 dev eth0'] },
        gateway: { role: 'gateway', interfaces: { wan: ['198.51.100.1/24', '203.0.113.50/32'], lan: ['192.168.50.1/24'] }, routes: ['192.0.2.9/32 via 198.51.100.23 dev wan'], rules, sockets: ['tcp 0.0.0.0:80'] },
        host: { interfaces: { eno1: ['192.168.50.20/24'] }, routes: ['default via 192.168.50.1 dev eno1'], sockets: ['tcp 0.0.0.0:80', 'tcp 0.0.0.0:82', 'tcp 192.168.50.20:8214'], rules: guard },
      });
      const deliveries = floodSite(site, 4, 'tcp');
      for (const from of SOURCES) {
        for (const dport of PORTS) {
          const t = run(site, `${from}:40000`, `203.0.113.50:${dport}/tcp`);
          if (t.outcome === 'unknown') continue;
          const seen = t.seen === null ? null : outcomeMachine(t);
          expect(reaches(site, deliveries, address(from), 40000, address('203.0.113.50'), dport)?.id ?? null, `${from} → ${dport}: ${outcome(t)}\n${rules}${guard}`).to.equal(seen);
        }
      }
    }), { numRuns: 500 });
  });
});

/** The machine that the packet was delivered to, whatever became of the answer. */
function outcomeMachine(t: ReturnType<typeof run>): string | null {
  const leg = t.shown.legs.find((l) => l.lane === 'forward' && l.events.some((e) => e.event === 'delivered'));
  return leg?.stop ?? null;
}
