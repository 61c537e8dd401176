import { compileIptables } from '../devices/index.ts';
import type { Family } from '../net/index.ts';
import { iptablesSave } from '../reading/index.ts';
import type { Site } from '../site/index.ts';
import { metBy } from './nftHost.ts';
import { run, testMachine } from './site.ts';

/** A host on one link with the client; its filter holds the rules of a test. */
export function iptablesHost(tables: string, family: Family): Site {
  const fact = iptablesSave.read(tables).facts[0];
  if (fact?.kind !== 'iptables') throw new Error('no rules');
  const program = compileIptables(fact.tables, family, 'rules');
  const [client, host] =
    family === 4 ? ['198.51.100.23/24', '198.51.100.9/24'] : ['2001:db8::23/64', '2001:db8::9/64'];
  const machine = testMachine('host', {
    interfaces: { eth0: [host], lo: [family === 4 ? '127.0.0.1/8' : '::1/128'] },
    sockets: family === 4 ? ['tcp 0.0.0.0:80', 'udp 0.0.0.0:53'] : ['tcp [::]:80', 'udp [::]:53'],
  });
  return {
    machines: [
      testMachine('client', { role: 'client', interfaces: { eth0: [client] } }),
      { ...machine, program: { 4: null, 6: null, [family]: program } },
    ],
    sharedAddresses: [],
    internet: null,
  };
}

const TO: Readonly<Record<string, readonly [string, string]>> = {
  tcp: ['198.51.100.23:40000', '198.51.100.9:80/tcp'],
  udp: ['198.51.100.23:40000', '198.51.100.9:53/udp'],
  tcp6: ['[2001:db8::23]:40000', '[2001:db8::9]:80/tcp'],
};

/** What a rule that drops does to the first packet: it hits, it misses, or that is open. */
export function iptablesMeets(condition: string, packet: string, chain = 'INPUT', before = ''): string {
  const family = packet.endsWith('6') ? 6 : 4;
  const site = iptablesHost(
    `*filter\n:INPUT ACCEPT [0:0]\n:OUTPUT ACCEPT [0:0]\n${before}-A ${chain} ${condition} -j DROP\nCOMMIT\n`,
    family,
  );
  const [from, to] = TO[packet] ?? ['', ''];
  return metBy(run(site, from, to));
}
