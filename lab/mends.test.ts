import { expect } from 'chai';
import { checkCaseDocument } from '@bright-ferry/core/case';
import { readCase } from '@bright-ferry/core/ledger';
import { commandsOf, mendChain, sceneFrom } from '@bright-ferry/core/mend';
import { parseEndpoint, parseTarget } from '@bright-ferry/core/net';
import { collect, IPTABLES, LISTINGS, entryOf } from './src/collect.ts';
import { Network } from './src/namespaces.ts';

const CLIENT = '198.51.100.23';
const SERVER = '198.51.100.80';
const PORT = 8214;
/** Names that a shell would act on, were they not quoted. */
const CHAIN = 'guard;in';

interface Faulty {
  readonly title: string;
  readonly rules?: string;
  readonly iptables?: string;
}

const chain = (rules: string, policy = 'drop'): string =>
  `table inet guard {\n chain input {\n  type filter hook input priority filter; policy ${policy};\n  ct state established,related accept\n  ${rules}\n }\n}\n`;
const saved = (rules: string): string =>
  `*filter\n:INPUT DROP [0:0]\n:FORWARD ACCEPT [0:0]\n:OUTPUT ACCEPT [0:0]\n-A INPUT -m state --state RELATED,ESTABLISHED -j ACCEPT\n${rules}COMMIT\n`;

const SITES: readonly Faulty[] = [
  { title: 'nft, nothing lets it in', rules: chain('tcp dport 22 accept') },
  { title: 'nft, a rule above ends it', rules: chain(`tcp dport ${PORT} counter drop`, 'accept') },
  {
    title: 'nft, one digit off in the source',
    rules: chain(`ip saddr 198.51.100.33 tcp dport ${PORT} counter accept comment "the $(id) office"`),
  },
  { title: 'iptables, nothing lets it in', iptables: saved('-A INPUT -p tcp --dport 22 -j ACCEPT\n') },
  {
    title: 'iptables, a rule above ends it, in a chain of its own',
    iptables: saved(
      `:${CHAIN} - [0:0]\n-A INPUT -p tcp -j ${CHAIN}\n-A ${CHAIN} -p tcp --dport 22 -j ACCEPT\n-A ${CHAIN} -p tcp --dport ${PORT} -j REJECT\n`,
    ),
  },
  {
    title: 'iptables, one digit off in the source',
    iptables: saved(
      `-A INPUT -s 198.51.100.33/32 -p tcp --dport ${PORT} -m comment --comment "it's the $(id) office" -j ACCEPT\n`,
    ),
  },
];

const canConnect = (network: Network): boolean => {
  const script = `import socket,sys\ntry:\n socket.create_connection(("${SERVER}",${PORT}),1.5)\nexcept OSError:\n sys.exit(1)`;
  try {
    network.run('client', `python3 -c '${script}'`);
    return true;
  } catch {
    return false;
  }
};

/** The mends that the evidence of the server leads to. */
function mends(network: Network) {
  const document = checkCaseDocument({
    format: 'bright-ferry-case',
    version: 1,
    title: 'mends in the lab',
    service: { name: 'gullcast', audience: [CLIENT] },
    path: [
      { id: 'client', role: 'client' },
      { id: 'server', role: 'host' },
    ],
  });
  const encoder = new TextEncoder();
  const listings = [...LISTINGS.json, ...IPTABLES].map(([name, command]) =>
    name === 'rules.txt' ? ([name, 'nft -a list ruleset'] as const) : ([name, command] as const),
  );
  const files = new Map(
    [...collect(network, 'client', LISTINGS.text), ...collect(network, 'server', listings)].map(
      ([name, text]) => [name, encoder.encode(text)] as const,
    ),
  );
  const facts = readCase({ document: { ...document, evidence: [...files.keys()].map(entryOf) }, files });
  const target = parseTarget(`${SERVER}:${PORT}/tcp`);
  const source = parseEndpoint(`${CLIENT}:40000`);
  if (!target || !source) throw new Error('no packet');
  const destination = { address: target.address, port: target.port };
  return mendChain(facts, sceneFrom(facts, { transport: 'tcp', source, destination }));
}

describe('the commands of mends, carried out on a machine', () => {
  SITES.forEach((site, i) =>
    it(`${site.title}: the client gets through afterwards, as rehearsed`, async () => {
      const network = new Network(`mend${i}`);
      try {
        for (const name of ['client', 'server']) network.machine(name);
        network.cable(
          { machine: 'client', device: 'eth0', addresses: [`${CLIENT}/24`] },
          { machine: 'server', device: 'eno1', addresses: [`${SERVER}/24`] },
        );
        network.settle();
        if (site.rules) network.run('server', 'nft -f -', site.rules);
        if (site.iptables) network.run('server', 'iptables-restore', site.iptables);
        const child = network.start('server', [
          'python3',
          '-c',
          `import socket,time\ns=socket.create_server(("0.0.0.0",${PORT}))\nprint("up",flush=True)\ntime.sleep(60)`,
        ]);
        await new Promise<void>((resolve) => child.stdout!.once('data', () => resolve()));
        expect(canConnect(network), 'before').to.equal(false);
        const [first, second] = mends(network);
        expect(first?.mend, `a mend of what ended ${first?.trace.outcome}`).to.not.equal(null);
        expect(second?.trace.outcome, 'rehearsed').to.equal('answered');
        const commands = first?.mend ? commandsOf(first.mend) : [];
        expect(commands).to.have.length(1);
        network.run('server', commands.join('\n'));
        expect(canConnect(network), commands.join('\n')).to.equal(true);
        expect(mends(network)[0]?.trace.outcome, 'looked at again').to.equal('answered');
      } finally {
        network.close();
      }
    }),
  );
});
