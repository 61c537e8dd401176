import { expect } from 'chai';
import { checkCaseDocument } from '@bright-ferry/core/case';
import { trace } from '@bright-ferry/core/crossing';
import { readCase } from '@bright-ferry/core/ledger';
import { commandsOf, mendChain, sceneFrom } from '@bright-ferry/core/mend';
import { parseEndpoint, parseTarget } from '@bright-ferry/core/net';
import { collect, entryOf, IPTABLES, LISTINGS } from './src/collect.ts';
import { Network } from './src/namespaces.ts';

const [OUTSIDE, SERVER, CLIENT] = ['198.51.100.80', '192.168.50.20', '192.168.50.77'];
const PORT = 8214;

interface Site {
  readonly title: string;
  readonly nft?: string;
  readonly iptables?: string;
}

const pre = (rule: string): string =>
  ` chain pre {\n  type nat hook prerouting priority dstnat; policy accept;\n  ${rule}\n }\n`;
const POST =
  ' chain post {\n  type nat hook postrouting priority srcnat; policy accept;\n' +
  '  oifname "wan" masquerade\n }\n';
const SAVED =
  '*nat\n:PREROUTING ACCEPT [0:0]\n:INPUT ACCEPT [0:0]\n:OUTPUT ACCEPT [0:0]\n:POSTROUTING ACCEPT [0:0]\n';

const SITES: readonly Site[] = [
  {
    title: 'nft, a translation bound to the line outward',
    nft: `table ip nat {\n${pre(`iifname "wan" tcp dport ${PORT} dnat to ${SERVER}`)}}\n`,
  },
  {
    title: 'nft, a translation whose answer goes straight back',
    nft: `table ip nat {\n${pre(`ip daddr ${OUTSIDE} tcp dport ${PORT} dnat to ${SERVER}`)}${POST}}\n`,
  },
  {
    title: 'iptables, a translation bound to the line outward',
    iptables:
      `${SAVED}-A PREROUTING -i wan -p tcp -m tcp --dport ${PORT} -j DNAT --to-destination ${SERVER}\n` +
      '-A POSTROUTING -o wan -j MASQUERADE\nCOMMIT\n',
  },
];

const canConnect = (network: Network): boolean => {
  const script = `import socket\nsocket.create_connection(("${OUTSIDE}",${PORT}),1.5)`;
  try {
    network.run('client', `python3 -c '${script}'`);
    return true;
  } catch {
    return false;
  }
};

const rulesOf = (network: Network): string =>
  ['nft -s list ruleset', 'iptables-save']
    .map((command) => network.run('gateway', command))
    .join('\n')
    .replace(/\[\d+:\d+\]/g, '')
    .replace(/^#.*$/gm, '');

/** A client beside the server, both on one network of the gateway. */
async function built(network: Network, site: Site): Promise<void> {
  for (const name of ['client', 'server', 'gateway', 'upstream']) network.machine(name);
  network.cable(
    { machine: 'upstream', device: 'eth0', addresses: ['198.51.100.1/24'] },
    { machine: 'gateway', device: 'wan', addresses: [`${OUTSIDE}/24`] },
  );
  network.segment([
    { machine: 'gateway', device: 'lan', addresses: ['192.168.50.1/24'] },
    { machine: 'client', device: 'eno1', addresses: [`${CLIENT}/24`] },
    { machine: 'server', device: 'eno1', addresses: [`${SERVER}/24`] },
  ]);
  network.run('gateway', 'ip route add default via 198.51.100.1\nsysctl -qw net.ipv4.ip_forward=1');
  network.settle();
  for (const name of ['client', 'server']) network.run(name, 'ip route add default via 192.168.50.1');
  if (site.nft) network.run('gateway', 'nft -f -', site.nft);
  if (site.iptables) network.run('gateway', 'iptables-restore', site.iptables);
  const child = network.start('server', [
    'python3',
    '-c',
    `import socket,time\ns=socket.create_server(("0.0.0.0",${PORT}))\nprint("up",flush=True)\ntime.sleep(60)`,
  ]);
  await new Promise<void>((resolve) => child.stdout?.once('data', () => resolve()));
}

function firstStep(network: Network, site: Site) {
  const names = ['client', 'gateway', 'server'];
  const listings = [...LISTINGS.json, ...(site.nft ? [] : IPTABLES)];
  const encoder = new TextEncoder();
  const files = new Map(
    names
      .flatMap((machine) => [...collect(network, machine, machine === 'client' ? LISTINGS.text : listings)])
      .map(([name, text]) => [name, encoder.encode(text)] as const),
  );
  const document = checkCaseDocument({
    format: 'bright-ferry-case',
    version: 1,
    title: 'a hairpin in the lab',
    service: { name: 'gullcast', audience: 'anyone' },
    path: names.map((id) => ({ id, role: id === 'server' ? 'host' : id })),
    evidence: [...files.keys()].map(entryOf),
  });
  const facts = readCase({ document, files });
  const [target, source] = [parseTarget(`${OUTSIDE}:${PORT}/tcp`), parseEndpoint(`${CLIENT}:40000`)];
  if (!target || !source) throw new Error('no packet');
  const destination = { address: target.address, port: target.port };
  return mendChain(facts, sceneFrom(facts, { transport: 'tcp', source, destination }))[0];
}

describe('a client beside the server dials the outside address of a gateway', () => {
  SITES.forEach((site, i) =>
    it(`${site.title}: turned round, and as before once that is taken back`, async () => {
      const network = new Network(`turn${i}`);
      try {
        await built(network, site);
        expect(canConnect(network), 'before').to.equal(false);
        const before = rulesOf(network);
        const step = firstStep(network, site);
        const or = step?.mend?.or;
        expect(step?.mend?.fault).to.equal('hairpin-missing');
        if (!step || !or?.apply) throw new Error('no other way');
        const after = or.apply(step.scene);
        expect(trace(after.site, after.packet).outcome, 'rehearsed').to.equal('answered');
        const { commands, undo } = commandsOf(or);
        network.run('gateway', commands.join('\n'));
        expect(canConnect(network), commands.join('\n')).to.equal(true);
        expect(firstStep(network, site)?.trace.outcome, 'looked at again').to.equal('answered');
        network.run('gateway', undo.join('\n'));
        expect(canConnect(network), undo.join('\n')).to.equal(false);
        expect(rulesOf(network), undo.join('\n')).to.equal(before);
      } finally {
        network.close();
      }
    }),
  );
});
