import { writeFileSync } from 'node:fs';
import { expect } from 'chai';
import { checkCaseDocument } from '@bright-ferry/core/case';
import { readCase } from '@bright-ferry/core/ledger';
import { commandsOf, mendChain, sceneFrom } from '@bright-ferry/core/mend';
import { parseEndpoint, parseTarget } from '@bright-ferry/core/net';
import { collect, IPTABLES, LISTINGS, entryOf } from './src/collect.ts';
import { Network } from './src/namespaces.ts';

const CLIENT = '198.51.100.23';
/** What the client dials: the server itself, or the gateway in front of it. */
const OUTSIDE = '198.51.100.80';
const INSIDE = '192.168.50.20';
const PORT = 8214;
/** Names that a shell would act on, were they not quoted. */
const CHAIN = 'guard;in';

interface Faulty {
  readonly title: string;
  /** Which machine is at fault; a site with a faulty gateway has the server behind it. */
  readonly at: 'server' | 'gateway';
  readonly nft?: string;
  readonly iptables?: string;
  /** Commands that break it besides its rules. */
  readonly broken?: string;
  /** Who else is to be let in. */
  readonly others?: readonly string[];
  /** Listed without handles, as people mostly paste it. */
  readonly isPlain?: true;
  /** Listed by both programs, nft’s and iptables’. */
  readonly isTwice?: true;
}

const chain = (rules: string, policy = 'drop'): string =>
  'table inet guard {\n' +
  ' chain input {\n' +
  `  type filter hook input priority filter; policy ${policy};\n` +
  '  ct state established,related accept\n' +
  `  ${rules}\n` +
  ' }\n' +
  '}\n';
const saved = (rules: string): string =>
  '*filter\n' +
  ':INPUT DROP [0:0]\n' +
  ':FORWARD ACCEPT [0:0]\n' +
  ':OUTPUT ACCEPT [0:0]\n' +
  '-A INPUT -m state --state RELATED,ESTABLISHED -j ACCEPT\n' +
  `${rules}COMMIT\n`;
const nat = (rules: string): string =>
  'table ip nat {\n chain pre {\n  type nat hook prerouting priority dstnat; policy accept;\n' +
  `  ${rules}\n }\n}\n`;
const savedNat = (rules: string): string =>
  '*nat\n' +
  ':PREROUTING ACCEPT [0:0]\n' +
  ':INPUT ACCEPT [0:0]\n' +
  ':OUTPUT ACCEPT [0:0]\n' +
  ':POSTROUTING ACCEPT [0:0]\n' +
  `${rules}COMMIT\n`;
const OFFICE = 'comment "the $(id) office"';
const RIGHT = nat(`tcp dport ${PORT} dnat to ${INSIDE}`);

const SITES: readonly Faulty[] = [
  { title: 'nft, nothing lets it in', at: 'server', nft: chain('tcp dport 22 accept') },
  {
    title: 'nft, a rule above ends it',
    at: 'server',
    nft: chain(`tcp dport ${PORT} counter drop`, 'accept'),
  },
  {
    title: 'nft, one digit off in the source',
    at: 'server',
    nft: chain(`ip saddr 198.51.100.33 tcp dport ${PORT} counter accept ${OFFICE}`),
  },
  {
    title: 'nft listed without handles, one digit off in the source',
    at: 'server',
    nft: chain(`tcp dport 22 accept\n  ip saddr 198.51.100.33 tcp dport ${PORT} counter accept ${OFFICE}`),
    isPlain: true,
  },
  {
    title: 'iptables, nothing lets it in',
    at: 'server',
    iptables: saved('-A INPUT -p tcp --dport 22 -j ACCEPT\n'),
  },
  {
    title: 'iptables, nothing lets it in, and three are to be',
    at: 'server',
    iptables: saved('-A INPUT -p tcp --dport 22 -j ACCEPT\n'),
    others: ['192.0.2.7', '192.0.2.64/27'],
  },
  {
    title: 'iptables, a rule above ends it, in a chain of its own',
    at: 'server',
    iptables: saved(
      `:${CHAIN} - [0:0]\n` +
        `-A INPUT -p tcp -j ${CHAIN}\n` +
        `-A ${CHAIN} -p tcp --dport 22 -j ACCEPT\n` +
        `-A ${CHAIN} -p tcp --dport ${PORT} -j REJECT\n`,
    ),
  },
  {
    title: 'iptables, one digit off in the source',
    at: 'server',
    iptables: saved(
      `-A INPUT -s 198.51.100.33/32 -p tcp --dport ${PORT} -m comment --comment "it's the $(id) ` +
        'office" -j ACCEPT\n',
    ),
  },
  { title: 'an interface that is switched off', at: 'gateway', nft: RIGHT, broken: 'ip link set lan down' },
  {
    title: 'forwarding switched off',
    at: 'gateway',
    nft: RIGHT,
    broken: 'sysctl -qw net.ipv4.ip_forward=0',
  },
  { title: 'no translation and no chain for it', at: 'gateway', nft: 'table ip nat {\n}\n' },
  { title: 'nft, no translation', at: 'gateway', nft: nat('tcp dport 443 dnat to 192.168.50.30') },
  {
    title: 'nft, a translation to a machine that is gone',
    at: 'gateway',
    nft: nat(`tcp dport ${PORT} counter dnat to 192.168.50.21 ${OFFICE}`),
  },
  {
    title: 'nft without handles, a translation to a machine that is gone',
    at: 'gateway',
    nft: nat(
      `tcp dport 22 dnat to 192.168.50.21:22\n  tcp dport ${PORT} counter dnat to 192.168.50.21:${PORT}`,
    ),
    isPlain: true,
  },
  { title: 'nft, the inside port', at: 'gateway', nft: nat(`tcp dport ${PORT} dnat to ${INSIDE}:8213`) },
  {
    title: 'nft, the inside port, and iptables does not see the rule',
    at: 'gateway',
    nft: nat(`tcp dport ${PORT} dnat to ${INSIDE}:8213`),
    isTwice: true,
  },
  { title: 'nft, the protocol', at: 'gateway', nft: nat(`udp dport ${PORT} dnat to ${INSIDE}`) },
  { title: 'nft, the line', at: 'gateway', nft: nat(`iifname "wan2" tcp dport ${PORT} dnat to ${INSIDE}`) },
  {
    title: 'nft, another rule takes it first',
    at: 'gateway',
    nft: nat(`tcp dport 8000-8999 dnat to 192.168.50.21\n  tcp dport ${PORT} counter dnat to ${INSIDE}`),
  },
  {
    title: 'iptables, a translation to a machine that is gone',
    at: 'gateway',
    iptables: savedNat(
      '-A PREROUTING -p tcp -m tcp --dport 22 -j DNAT --to-destination 192.168.50.21\n' +
        `-A PREROUTING -p tcp -m tcp --dport ${PORT} -j DNAT --to-destination 192.168.50.21:${PORT}\n`,
    ),
  },
  {
    title: 'iptables, the inside port',
    at: 'gateway',
    iptables: savedNat(
      `-A PREROUTING -p tcp -m tcp --dport ${PORT} -j DNAT --to-destination ${INSIDE}:8213\n`,
    ),
  },
  {
    title: 'iptables, another rule takes it first',
    at: 'gateway',
    iptables: savedNat(
      '-A PREROUTING -p tcp -m tcp --dport 8000:8999 -j DNAT --to-destination 192.168.50.21\n' +
        `-A PREROUTING -p tcp -m tcp --dport ${PORT} -j DNAT --to-destination ${INSIDE}\n`,
    ),
  },
  {
    title: 'iptables, a translation for somebody else, and three are to be let in',
    at: 'gateway',
    iptables: savedNat(
      '-A PREROUTING -p tcp -m tcp --dport 22 -j DNAT --to-destination 192.168.50.21\n' +
        `-A PREROUTING -s 192.0.2.9/32 -p tcp -m tcp --dport ${PORT} -j DNAT --to-destination ` +
        `${INSIDE}\n`,
    ),
    others: ['192.0.2.7', '192.0.2.64/27'],
  },
];

const canConnect = (network: Network): boolean => {
  const script =
    'import socket,sys\n' +
    'try:\n' +
    ` socket.create_connection(("${OUTSIDE}",${PORT}),1.5)\n` +
    'except OSError:\n' +
    ' sys.exit(1)';
  try {
    network.run('client', `python3 -c '${script}'`);
    return true;
  } catch {
    return false;
  }
};

/** What a mend may change on a machine, without what counts. */
const stateOf = (network: Network, machine: string): string =>
  ['nft -s list ruleset', 'iptables-save', 'ip route show', 'ip -o link show', 'sysctl net.ipv4.ip_forward']
    .map((command) => network.run(machine, command))
    .join('\n')
    .split('\n')
    .filter((line) => !line.startsWith('#'))
    .join('\n')
    .replace(/\[\d+:\d+\]/g, '');

/** The mends that the evidence of the machines leads to. */
function mends(network: Network, site: Faulty) {
  const inner = site.at === 'gateway' ? ['gateway', 'server'] : ['server'];
  const document = checkCaseDocument({
    format: 'bright-ferry-case',
    version: 1,
    title: 'mends in the lab',
    service: { name: 'gullcast', audience: [CLIENT, ...(site.others ?? [])] },
    path: [
      { id: 'client', role: 'client' },
      ...inner.map((id) => ({ id, role: id === 'server' ? 'host' : id })),
    ],
  });
  const encoder = new TextEncoder();
  const listings = [...LISTINGS.json, ...(site.nft && !site.isTwice ? [] : IPTABLES)].map(
    ([name, command]) => [name, site.isPlain ? command.replace('nft -a', 'nft') : command] as const,
  );
  const files = new Map(
    [
      ...collect(network, 'client', LISTINGS.text),
      ...inner.flatMap((machine) => [...collect(network, machine, listings)]),
    ].map(([name, text]) => [name, encoder.encode(text)] as const),
  );
  const known = { ...document, evidence: [...files.keys()].map(entryOf) };
  const facts = readCase({ document: known, files });
  const target = parseTarget(`${OUTSIDE}:${PORT}/tcp`);
  const source = parseEndpoint(`${CLIENT}:40000`);
  if (!target || !source) throw new Error('no packet');
  const destination = { address: target.address, port: target.port };
  const steps = mendChain(facts, sceneFrom(facts, { transport: 'tcp', source, destination }));
  const listed = [...files].map(([name, bytes]) => [name, new TextDecoder().decode(bytes)] as const);
  return { steps, document: known, listed: Object.fromEntries(listed) };
}

/** Where the unit tests find what was proven here: `RECORD_MENDS=1 npm run test:lab` writes it anew. */
const RECORDED = new URL('../packages/core/src/mend/recorded.jsonl', import.meta.url);

/** The machines of a site, cabled, with its fault and a program that listens. */
async function built(network: Network, site: Faulty): Promise<void> {
  for (const name of ['client', 'server', ...(site.at === 'gateway' ? ['gateway'] : [])])
    network.machine(name);
  const client = { machine: 'client', device: 'eth0', addresses: [`${CLIENT}/24`] };
  if (site.at === 'server')
    network.cable(client, { machine: 'server', device: 'eno1', addresses: [`${OUTSIDE}/24`] });
  else {
    network.cable(client, { machine: 'gateway', device: 'wan', addresses: [`${OUTSIDE}/24`] });
    network.cable(
      { machine: 'gateway', device: 'lan', addresses: ['192.168.50.1/24'] },
      { machine: 'server', device: 'eno1', addresses: [`${INSIDE}/24`] },
    );
    network.run('gateway', 'sysctl -qw net.ipv4.ip_forward=1');
  }
  network.settle();
  if (site.at === 'gateway') network.run('server', 'ip route add default via 192.168.50.1');
  if (site.nft) network.run(site.at, 'nft -f -', site.nft);
  if (site.iptables) network.run(site.at, 'iptables-restore', site.iptables);
  if (site.broken) network.run(site.at, site.broken);
  const child = network.start('server', [
    'python3',
    '-c',
    `import socket,time\ns=socket.create_server(("0.0.0.0",${PORT}))\nprint("up",flush=True)\ntime.sleep(60)`,
  ]);
  await new Promise<void>((resolve) => child.stdout?.once('data', () => resolve()));
}

describe('the commands of mends, carried out on a machine', () => {
  const proven: string[] = [];
  after(() => {
    if (process.env['RECORD_MENDS']) writeFileSync(RECORDED, `${proven.join('\n')}\n`);
  });

  SITES.forEach((site, i) =>
    it(`${site.at}: ${site.title}: the client gets through, and once undone as before`, async () => {
      const network = new Network(`mend${i}`);
      try {
        await built(network, site);
        expect(canConnect(network), 'before').to.equal(false);
        const before = stateOf(network, site.at);
        const { steps, document, listed } = mends(network, site);
        expect(steps.at(-1)?.trace.outcome, 'rehearsed').to.equal('answered');
        const made = steps.flatMap(({ mend }) => (mend ? [commandsOf(mend)] : []));
        const commands = made.flatMap((m) => m.commands);
        expect(commands, 'commands').to.have.length.above(0);
        network.run(site.at, commands.join('\n'));
        expect(canConnect(network), commands.join('\n')).to.equal(true);
        expect(mends(network, site).steps[0]?.trace.outcome, 'looked at again').to.equal('answered');
        const undo = made.toReversed().flatMap((m) => m.undo);
        network.run(site.at, undo.join('\n'));
        expect(canConnect(network), undo.join('\n')).to.equal(false);
        expect(stateOf(network, site.at), undo.join('\n')).to.equal(before);
        proven.push(JSON.stringify({ title: site.title, document, listed, commands, undo }));
      } finally {
        network.close();
      }
    }),
  );
});
