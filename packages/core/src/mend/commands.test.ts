import { expect } from 'chai';
import { caseFacts, serverEvidence, type TestStop } from '../testing/index.ts';
import { parseEndpoint, parseTarget } from '../net/index.ts';
import { commandsOf, mendChain, sceneFrom, type Mend } from './index.ts';

const CLIENT = '198.51.100.23';
const SERVER = '203.0.113.80';
const PORT = 8214;

interface Given {
  readonly settings?: unknown;
  readonly rules?: string;
  readonly audience?: readonly string[];
}

/** The first mend of a rented machine that the client dials, and how the packet ends after it. */
function firstMend({ settings, rules = '', audience = [CLIENT] }: Given): { mend: Mend; then: string } {
  const host: TestStop = { id: 'host', role: 'host', ...(settings ? { settings } : {}) };
  const path = [{ id: 'client', role: 'client' }, { id: 'carrier', role: 'carrier' }, host];
  const files = serverEvidence(`${SERVER}/24`, '203.0.113.1', [`tcp 0.0.0.0:${PORT} gullcast`], rules);
  const facts = caseFacts(path, files, {
    service: { name: 'Gullcast', kind: 'media', audience, endpoints: [{ protocol: 'tcp', port: PORT }] },
  });
  const target = parseTarget(`${SERVER}:${PORT}/tcp`);
  const source = parseEndpoint(`${CLIENT}:40000`);
  if (!target || !source) throw new Error('the test names no packet');
  const packet = {
    transport: target.transport,
    source,
    destination: { address: target.address, port: target.port },
  };
  const [first, second] = mendChain(facts, sceneFrom(facts, packet));
  if (!first?.mend) throw new Error(`nothing mends what ended ${first?.trace.outcome}`);
  return { mend: first.mend, then: second?.trace.outcome ?? 'nothing more' };
}

const profiles = (...rows: Record<string, unknown>[]) => ({
  kind: 'host-profiles',
  active: 'private',
  profiles: { private: { in: 'block', out: 'allow' } },
  rows: rows.map((r) => ({ direction: 'in', protocol: 'tcp', localPorts: PORT, ...r })),
});
const ALLOW = { name: "the harbour's radio", action: 'allow' };

describe('the commands of mends that no kernel here can try', () => {
  const table: readonly (readonly [string, Given, string, string, string])[] = [
    [
      'Windows: no row lets it in',
      { settings: profiles() },
      'host-drop',
      "New-NetFirewallRule -DisplayName 'TCP 8214 from 198.51.100.23' -Direction Inbound -Action " +
        "Allow -Protocol TCP -LocalPort 8214 -RemoteAddress 198.51.100.23 -Profile 'private'",
      `Remove-NetFirewallRule -DisplayName 'TCP 8214 from 198.51.100.23'`,
    ],
    [
      'Windows: a row that blocks is switched off, its name quoted',
      { settings: profiles(ALLOW, { name: "Marta's; Stop-Computer", action: 'block' }) },
      'host-block-wins',
      `Disable-NetFirewallRule -DisplayName 'Marta''s; Stop-Computer'`,
      `Enable-NetFirewallRule -DisplayName 'Marta''s; Stop-Computer'`,
    ],
    [
      'Windows: a row for others lets the client in as well',
      { settings: profiles({ ...ALLOW, remoteAddresses: ['192.0.2.0/24'] }) },
      'host-scope',
      `Set-NetFirewallRule -DisplayName 'the harbour''s radio' -RemoteAddress 198.51.100.23,192.0.2.0/24`,
      `Set-NetFirewallRule -DisplayName 'the harbour''s radio' -RemoteAddress 192.0.2.0/24`,
    ],
    [
      'Windows: one digit off in the source is put right',
      { settings: profiles({ ...ALLOW, remoteAddresses: ['198.51.100.33'] }) },
      'host-scope',
      `Set-NetFirewallRule -DisplayName 'the harbour''s radio' -RemoteAddress 198.51.100.23`,
      `Set-NetFirewallRule -DisplayName 'the harbour''s radio' -RemoteAddress 198.51.100.33`,
    ],
    [
      'Windows: one digit off in one of two sources, and the other stays allowed',
      { settings: profiles({ ...ALLOW, remoteAddresses: ['192.0.2.0/24', '198.51.100.33'] }) },
      'host-scope',
      `Set-NetFirewallRule -DisplayName 'the harbour''s radio' -RemoteAddress 198.51.100.23,192.0.2.0/24`,
      `Set-NetFirewallRule -DisplayName 'the harbour''s radio' -RemoteAddress 192.0.2.0/24,198.51.100.33`,
    ],
    [
      'Windows: a row for the local subnet stays as it is, and one is added',
      { settings: profiles({ ...ALLOW, remoteAddresses: ['local-subnet'] }) },
      'host-scope',
      "New-NetFirewallRule -DisplayName 'TCP 8214 from 198.51.100.23' -Direction Inbound -Action " +
        "Allow -Protocol TCP -LocalPort 8214 -RemoteAddress 198.51.100.23 -Profile 'private'",
      `Remove-NetFirewallRule -DisplayName 'TCP 8214 from 198.51.100.23'`,
    ],
    [
      'Windows: of a name that two rows have no command takes either',
      {
        settings: profiles(
          { ...ALLOW, remoteAddresses: ['192.0.2.0/24'] },
          { ...ALLOW, localPorts: 9000, remoteAddresses: ['192.0.2.0/24'] },
        ),
      },
      'host-scope',
      "New-NetFirewallRule -DisplayName 'TCP 8214 from 198.51.100.23' -Direction Inbound -Action " +
        "Allow -Protocol TCP -LocalPort 8214 -RemoteAddress 198.51.100.23 -Profile 'private'",
      `Remove-NetFirewallRule -DisplayName 'TCP 8214 from 198.51.100.23'`,
    ],
  ];
  for (const [title, given, fault, command, undo] of table)
    it(title, () => {
      const { mend, then } = firstMend(given);
      expect(mend.fault).to.equal(fault);
      expect(commandsOf(mend)).to.deep.include({ commands: [command], undo: [undo] });
      expect(then).to.equal('answered');
    });

  it('Windows: two blocking rows of one name are switched off by hand: a command takes both', () => {
    const block = { name: 'gullcast.exe', action: 'block' };
    const { mend } = firstMend({ settings: profiles(ALLOW, block, { ...block, localPorts: 9000 }) });
    expect(mend.finding.found).to.equal('row-blocks');
    expect(commandsOf(mend)).to.deep.equal({ commands: [], undo: [] });
  });

  const UFW = (row: string): string =>
    'Status: active\n' +
    'Logging: on (low)\n' +
    'Default: deny (incoming), allow (outgoing), disabled (routed)\n' +
    'New profiles: skip\n' +
    '\n' +
    'To                         Action      From\n' +
    '--                         ------      ----\n' +
    `${row}\n`;
  const fronts: readonly (readonly [string, string, readonly string[], readonly string[]])[] = [
    [
      'ufw: a row more beside one for others',
      UFW('8214/tcp                   ALLOW IN    192.0.2.0/24'),
      ['ufw allow from 198.51.100.23 to any port 8214 proto tcp'],
      ['ufw delete allow from 198.51.100.23 to any port 8214 proto tcp'],
    ],
    [
      'ufw: above a row that ends it',
      UFW('8214/tcp                   DENY IN     Anywhere'),
      ['ufw prepend allow from 198.51.100.23 to any port 8214 proto tcp'],
      ['ufw delete allow from 198.51.100.23 to any port 8214 proto tcp'],
    ],
    [
      'firewalld: a rich rule, at once and for good, and both taken back',
      'public (active)\n' +
        '  target: default\n' +
        '  icmp-block-inversion: no\n' +
        '  interfaces: eno1\n' +
        '  sources: \n' +
        '  services: ssh\n' +
        '  ports: \n' +
        '  protocols: \n' +
        '  forward: yes\n' +
        '  masquerade: no\n' +
        '  forward-ports: \n' +
        '  source-ports: \n' +
        '  icmp-blocks: \n' +
        '  rich rules: \n',
      ['', ' --permanent'].map(
        (p) =>
          `firewall-cmd${p} --zone=public --add-rich-rule='rule family="ipv4" source ` +
          `address="198.51.100.23" port port="8214" protocol="tcp" accept'`,
      ),
      ['', ' --permanent'].map(
        (p) =>
          `firewall-cmd${p} --zone=public --remove-rich-rule='rule family="ipv4" source ` +
          `address="198.51.100.23" port port="8214" protocol="tcp" accept'`,
      ),
    ],
  ];
  for (const [title, rules, commands, undo] of fronts)
    it(title, () => {
      const { mend, then } = firstMend({ rules });
      expect(commandsOf(mend).commands).to.deep.equal(commands);
      expect(commandsOf(mend).undo).to.deep.equal(undo);
      expect(then).to.equal('answered');
    });
});
