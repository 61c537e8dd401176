import { expect } from 'chai';
import { caseFacts, HOME, serverEvidence } from '../testing/index.ts';
import { parseEndpoint } from '../net/index.ts';
import { mendWords } from '../words/index.ts';
import { commandsOf, mendChain, sceneFrom, type MendStep } from './index.ts';

const ROW = {
  name: 'Gullcast',
  direction: 'in',
  action: 'allow',
  protocol: 'tcp',
  localPorts: '8214',
  profiles: ['private'],
  program: 'C:\\Radio\\gullcast.exe',
};
const LISTENING = 'tcp 0.0.0.0:8214 C:\\Radio\\gullcast.exe';

/** A Windows server behind a router that forwards TCP 8214, its firewall filled in on a form. */
const steps = (row: object, sockets: readonly string[] = [LISTENING]): readonly MendStep[] =>
  stepsOf([{ ...ROW, ...row }], sockets);

function stepsOf(rows: readonly object[], sockets: readonly string[] = [LISTENING]): readonly MendStep[] {
  const block = { in: 'block', out: 'allow' };
  const path = HOME.map((s) =>
    s.id === 'host'
      ? {
          ...s,
          settings: {
            kind: 'host-profiles',
            active: 'private',
            profiles: { domain: block, private: block, public: block },
            rows,
            silentWhenClosed: true,
          },
        }
      : s,
  );
  const facts = caseFacts(
    path,
    {
      ...serverEvidence('192.168.50.20/24', '192.168.50.1', sockets, ''),
      'gateway/forwards': 'tcp 8214 192.168.50.20 8214\n',
    },
    {
      service: { name: 'Gullcast', endpoints: [{ protocol: 'tcp', port: 8214 }], audience: 'anyone' },
      client: { address: '198.51.100.23', dials: '203.0.113.50:8214' },
    },
  );
  const source = parseEndpoint('198.51.100.23:40000');
  const destination = parseEndpoint('203.0.113.50:8214');
  if (!source || !destination) throw new Error('the test names no packet');
  return mendChain(facts, sceneFrom(facts, { transport: 'tcp', source, destination }));
}

describe('rows of a host firewall that were made for the service', () => {
  it('as they should be let it in', () => expect(steps({})[0]?.trace.outcome).to.equal('answered'));

  // Parameters of Set-NetFirewallRule (NetSecurity module), each with what takes it back.
  const table: readonly (readonly [string, object, string, string, string, string])[] = [
    [
      'another profile than the active one',
      { profiles: ['domain'] },
      'host-profile',
      'the row “Gullcast” was made for TCP 8214, but it holds on the profile domain alone, ' +
        'which is not active',
      "Set-NetFirewallRule -DisplayName 'Gullcast' -Profile 'domain','private'",
      "Set-NetFirewallRule -DisplayName 'Gullcast' -Profile 'domain'",
    ],
    [
      'another file of the same program',
      { program: 'C:\\Old\\gullcast.exe' },
      'host-program',
      'the row “Gullcast” was made for TCP 8214, but it is for another file, C:\\Old\\gullcast.exe',
      "Set-NetFirewallRule -DisplayName 'Gullcast' -Program 'C:\\Radio\\gullcast.exe'",
      "Set-NetFirewallRule -DisplayName 'Gullcast' -Program 'C:\\Old\\gullcast.exe'",
    ],
    [
      'the other protocol',
      { protocol: 'udp' },
      'host-value',
      'the row “Gullcast” was made for TCP 8214, but it allows UDP',
      "Set-NetFirewallRule -DisplayName 'Gullcast' -Protocol 'tcp'",
      "Set-NetFirewallRule -DisplayName 'Gullcast' -Protocol 'udp'",
    ],
    [
      'another port of this very program',
      { localPorts: '8213' },
      'host-value',
      'the row “Gullcast” was made for TCP 8214, but it allows the port 8213',
      "Set-NetFirewallRule -DisplayName 'Gullcast' -LocalPort '8214'",
      "Set-NetFirewallRule -DisplayName 'Gullcast' -LocalPort '8213'",
    ],
  ];
  for (const [title, row, fault, wrong, command, undo] of table)
    it(title, () => {
      const [first, ...more] = steps(row);
      expect(first?.mend?.fault).to.equal(fault);
      if (!first?.mend) throw new Error('nothing is mended');
      expect(mendWords(first.mend, (id) => id ?? '').wrong).to.equal(wrong);
      expect(commandsOf(first.mend)).to.deep.equal({ commands: [command], undo: [undo] });
      expect(more[more.length - 1]?.trace.outcome).to.equal('answered');
    });

  it('a row for another port that no program of this service has is not meant', () =>
    expect(steps({ localPorts: '9999', program: undefined })[0]?.mend?.fault).to.equal('host-drop'));

  for (const [title, more] of [
    ['other senders', { remoteAddresses: ['192.0.2.0/24'] }],
    ['the local subnet', { remoteAddresses: ['local-subnet'] }],
    ['another address of the machine', { localAddresses: ['192.168.50.21'] }],
    ['a port of the sender', { remotePorts: '1024' }],
  ] as const)
    it(`a row that is for ${title} as well would not let the client in with that value right`, () =>
      expect(steps({ ...more, profiles: ['domain'] })[0]?.mend?.fault).to.not.equal('host-profile'));

  it('a row for the client alone would', () =>
    expect(steps({ remoteAddresses: ['198.51.100.0/24'], profiles: ['domain'] })[0]?.mend?.fault).to.equal(
      'host-profile',
    ));

  const faultOf = (...rows: object[]): string | undefined =>
    stepsOf(rows.map((r) => ({ ...ROW, ...r })))[0]?.mend?.fault;

  for (const [title, row] of [
    ['that blocks', { action: 'block' }],
    ['outward', { direction: 'out' }],
    ['that is off', { enabled: false }],
    ['that may not let in what it seems to', { perhaps: 'its hours' }],
  ] as const)
    it(`a row ${title} was not made for it`, () =>
      expect(faultOf({ ...row, profiles: ['domain'] })).to.not.equal('host-profile'));

  it('a row of any profile, of several ports, for any protocol is right', () => {
    const given = { profiles: ['any'], localPorts: '80,8200-8214', protocol: 'any', program: undefined };
    expect(steps(given)[0]?.trace.outcome).to.equal('answered');
    expect(steps({ ...given, localPorts: undefined })[0]?.trace.outcome).to.equal('answered');
  });

  it('ports one short at either end are another value', () => {
    expect(faultOf({ localPorts: '8200-8213,8215-8220' })).to.equal('host-value');
    expect(faultOf({ localPorts: '8214-8220', profiles: ['Domain'] })).to.equal('host-profile');
  });

  it('of two rows the one with one mistake is meant, wherever it stands', () => {
    const twice = { profiles: ['domain'], protocol: 'udp', name: 'old' };
    expect(faultOf(twice, { profiles: ['domain'] })).to.equal('host-profile');
    const [first] = stepsOf([
      { ...ROW, ...twice },
      { ...ROW, profiles: ['domain'] },
    ]);
    expect(first?.mend?.finding).to.deep.include({ found: 'row-value', name: 'Gullcast' });
  });

  it('a row without ports is not this service’s by its protocol alone', () =>
    expect(faultOf({ localPorts: undefined, protocol: 'udp', program: undefined })).to.equal('host-drop'));

  it('a row of a name that another one has is changed by hand', () => {
    const [first] = stepsOf([
      { ...ROW, profiles: ['domain'] },
      { ...ROW, localPorts: '9000', program: undefined },
    ]);
    expect(first?.mend?.fault).to.equal('host-profile');
    expect(first?.mend && commandsOf(first.mend)).to.deep.equal({ commands: [], undo: [] });
  });

  it('a row beside others of other names is changed by a command', () => {
    const [first] = stepsOf([
      { ...ROW, profiles: ['domain'] },
      { ...ROW, name: 'Lantern', localPorts: '9000', program: undefined },
    ]);
    expect(first?.mend && commandsOf(first.mend).commands.join(' ')).to.contain("-DisplayName 'Gullcast'");
  });

  it('a program whose folder nobody knows is not written into a row', () => {
    const [first] = steps({ program: 'C:\\Old\\other.exe' }, ['tcp 0.0.0.0:8214 gullcast.exe']);
    const finding = first?.mend?.finding;
    expect(finding?.found === 'row-value' ? finding.change.mended : []).to.deep.equal(['Any']);
  });

  it('two values that are off are two mistakes: one new row is less', () =>
    expect(steps({ profiles: ['domain'], protocol: 'udp' })[0]?.mend?.fault).to.equal('host-drop'));

  it('a row for a program that does not listen is right: the program is missing', () => {
    const [first, ...more] = steps({}, ['tcp 127.0.0.1:8214 C:\\Radio\\gullcast.exe']);
    expect(first?.mend?.fault).to.be.oneOf(['listen-loopback', 'listen-none']);
    expect(more[more.length - 1]?.trace.outcome).to.equal('answered');
    expect(steps({}, ['tcp 0.0.0.0:9000 other'])[0]?.mend?.fault).to.equal('listen-none');
  });
});
