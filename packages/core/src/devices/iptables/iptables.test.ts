import { expect } from 'chai';
import { iptablesSave } from '../../reading/index.ts';
import { outcome, run, testMachine, type TestMachine } from '../../testing/index.ts';
import type { Site } from '../../site/index.ts';
import { compileIptables } from './compile.ts';
import { options } from './options.ts';

const CLIENT: TestMachine = { role: 'client', interfaces: { eth0: ['198.51.100.23/24'] } };

function siteWith(filter: string, policy = 'ACCEPT'): Site {
  const reading = iptablesSave.read(
    `*filter\n:INPUT ${policy} [0:0]\n:OUTPUT ACCEPT [0:0]\n:extra - [0:0]\n${filter}\nCOMMIT\n`,
  );
  const fact = reading.facts[0];
  if (fact?.kind !== 'iptables') throw new Error('no rules');
  const program = compileIptables(fact.tables, 4, 'rules');
  const host = {
    ...testMachine('host', {
      interfaces: { eth0: ['198.51.100.9/24'] },
      sockets: ['tcp 0.0.0.0:80', 'udp 0.0.0.0:53'],
    }),
    program: { 4: program, 6: null },
  };
  return { machines: [testMachine('client', CLIENT), host], sharedAddresses: [], internet: null };
}

describe('iptables rules as iptables-extensions(8) has them', () => {
  const table: readonly (readonly [string, string, string])[] = [
    ['-A INPUT -p tcp -m tcp --dport 80 -j DROP', '198.51.100.9:80/tcp', 'lost at host'],
    ['-A INPUT -p tcp -m tcp ! --dport 22 -j DROP', '198.51.100.9:80/tcp', 'lost at host'],
    ['-A INPUT -p tcp -m tcp ! --dport 22 -j DROP', '198.51.100.9:53/udp', 'answered at host'],
    ['-A INPUT ! -s 198.51.100.0/24 -j DROP', '198.51.100.9:80/tcp', 'answered at host'],
    [
      '-A INPUT -p tcp -m multiport --dports 22,80:90 -j REJECT --reject-with tcp-reset',
      '198.51.100.9:80/tcp',
      'refused at host',
    ],
    ['-A INPUT -m conntrack --ctstate NEW -j DROP', '198.51.100.9:80/tcp', 'lost at host'],
    ['-A OUTPUT -m state --state ESTABLISHED -j DROP', '198.51.100.9:80/tcp', 'lost at host (reply)'],
    [
      '-A INPUT -m iprange --src-range 198.51.100.20-198.51.100.30 -j DROP',
      '198.51.100.9:80/tcp',
      'lost at host',
    ],
    ['-A INPUT -i eth+ -j DROP', '198.51.100.9:80/tcp', 'lost at host'],
    ['-A INPUT -p tcp -m tcp --tcp-flags FIN,SYN,RST,ACK SYN -j DROP', '198.51.100.9:80/tcp', 'lost at host'],
    ['-A INPUT -m addrtype ! --dst-type LOCAL -j DROP', '198.51.100.9:80/tcp', 'answered at host'],
    [
      '-A INPUT -j extra\n-A extra -p udp -j RETURN\n-A extra -j DROP',
      '198.51.100.9:53/udp',
      'answered at host',
    ],
    [
      '-A INPUT -g extra\n-A INPUT -j DROP\n-A extra -p udp -j RETURN',
      '198.51.100.9:80/tcp',
      'answered at host',
    ],
    ['-A INPUT -m limit --limit 3/min -j DROP', '198.51.100.9:80/tcp', 'unknown'],
    [
      '-A INPUT -m limit --limit 3/min -j LOG --log-prefix "-p tcp "',
      '198.51.100.9:80/tcp',
      'answered at host',
    ],
    ['-A INPUT -m owner --uid-owner 0 -j DROP', '198.51.100.9:80/tcp', 'unknown'],
    [
      '-A INPUT -p tcp -m tcp --dport 443 -m owner --uid-owner 0 -j DROP',
      '198.51.100.9:80/tcp',
      'answered at host',
    ],
    [
      '-A INPUT -j MARK --set-xmark 0x10/0xff\n-A INPUT -m mark --mark 0x10/0x10 -j DROP',
      '198.51.100.9:80/tcp',
      'lost at host',
    ],
  ];
  for (const [rules, to, expected] of table)
    it(`${rules.replaceAll('\n', '; ')}  →  ${expected}`, () =>
      expect(outcome(run(siteWith(rules), '198.51.100.23', to))).to.equal(expected));

  it('puts a negation where it belongs, before or behind the option', () => {
    expect(options(['!', '-s', '192.0.2.1', '-p', '!', 'tcp'])).to.deep.equal([
      { name: '-s', negate: true, values: ['192.0.2.1'] },
      { name: '-p', negate: true, values: ['tcp'] },
    ]);
  });
});
