import { writeFileSync } from 'node:fs';
import { expect } from 'chai';
import { checkCaseDocument } from '@bright-ferry/core/case';
import { readCase } from '@bright-ferry/core/ledger';
import { commandsOf, mendChain, sceneFrom } from '@bright-ferry/core/mend';
import { parseEndpoint, parseTarget } from '@bright-ferry/core/net';
import { collect, IPTABLES, LISTINGS, entryOf } from './src/collect.ts';
import { CLIENT, OUTSIDE, INSIDE, PORT, SITES, type Faulty } from './src/faultySites.ts';
import { Network } from './src/namespaces.ts';

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
