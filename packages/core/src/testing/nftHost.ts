import type { Trace } from '../crossing/index.ts';
import type { Site } from '../site/index.ts';
import { nftProgram, outcome, run, testMachine } from './site.ts';

/** A host on one link with the client. `before` holds sets and chains, `tables` whole tables. */
export function nftHost(
  rules: string,
  { hook = 'input', policy = 'accept', before = '', tables = '', family = 'inet' } = {},
): Site {
  const program = nftProgram(
    `${tables}table ${family} guard {\n` +
      `${before}\tchain base {\n` +
      `\t\ttype filter hook ${hook} priority filter; policy ${policy};\n` +
      `\t\t${rules}\n` +
      '\t}\n' +
      '}\n',
  );
  const machine = testMachine('host', {
    interfaces: {
      eth0: ['198.51.100.9/24', '2001:db8::9/64'],
      lo: ['127.0.0.1/8', '::1/128'],
    },
    sockets: ['tcp 0.0.0.0:80', 'udp 0.0.0.0:53', 'tcp [::]:80'],
  });
  return {
    machines: [
      testMachine('client', {
        role: 'client',
        interfaces: { eth0: ['198.51.100.23/24', '2001:db8::23/64'] },
      }),
      { ...machine, program: { 4: program, 6: program } },
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

export const nftOutcome = (site: Site, packet = 'tcp'): string => {
  const [from, to] = TO[packet] ?? ['', ''];
  return outcome(run(site, from, to));
};

export function nftMeets(condition: string, packet: string, before = ''): string {
  const [from, to] = TO[packet] ?? ['', ''];
  return metBy(run(nftHost(`${condition} drop`, { before }), from, to));
}

/** Whether a rule that drops has met the first packet of the connection, whatever it does to further ones. */
export function metBy({ outcome: became, shown }: Trace): 'hits' | 'misses' | 'open' {
  if (became === 'answered') return 'misses';
  if (became !== 'lost') return 'open';
  return 'further' in shown.ending ? 'misses' : 'hits';
}
