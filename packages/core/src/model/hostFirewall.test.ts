import { expect } from 'chai';
import { printed } from '../facts/index.ts';
import { caseFacts, outcome, run, windowsFirewall } from '../testing/index.ts';

const { at, brief, OTHERS, PART, PRIVATE, PROFILES, row } = windowsFirewall;

describe('a host firewall from its listings', () => {
  const whole = (own: string, more: Record<string, string> = {}) => ({
    'host/firewall': OTHERS + own,
    'host/profiles': PROFILES('ON'),
    'host/active': PRIVATE,
    ...more,
  });
  const table: readonly (readonly [string, Record<string, string>, string])[] = [
    ['the whole listing has a row for the port', whole(row('Radio')), 'answered at host'],
    ['the whole listing has none', whole(''), 'lost at host'],
    ['its row is switched off', whole(row('Radio', { enabled: 'No' })), 'lost at host'],
    ['its row is for another profile', whole(row('Radio', { profiles: 'Public' })), 'lost at host'],
    ['its row is for the local subnet', whole(row('Radio', { remote: 'LocalSubnet' })), 'lost at host'],
    [
      'its row is for a range with the client in it',
      whole(row('Radio', { remote: '198.51.100.20-198.51.100.30' })),
      'answered at host',
    ],
    [
      'a block stands beside the allow',
      whole(row('Radio') + row('Keep out', { action: 'Block' })),
      'lost at host',
    ],
    [
      'a row that blocks a protocol by a word that nobody knows',
      whole(row('Radio') + row('Keep out', { action: 'Block', protocol: 'TCP flurb' })),
      'unknown',
    ],
    [
      'a row that lets in a protocol by such a word',
      whole(row('Radio', { protocol: 'TCP flurb' })),
      'unknown',
    ],
    [
      'a row that blocks TCP by its number, without its ports',
      whole(row('Radio') + row('Keep out', { action: 'Block', protocol: '6' })),
      'unknown',
    ],
    ...['ICMPv4', 'ICMPv6', '1', '47', 'IPv6-Route', 'IGMP', 'GRE'].map(
      (protocol) =>
        [
          `a row that blocks ${protocol} says nothing of it`,
          whole(row('Radio') + row('Other', { action: 'Block', protocol })),
          'answered at host',
        ] as const,
    ),
    [
      'its row asks for authentication',
      whole(row('Radio', { action: 'Bypass', security: 'Authenticate' })),
      'lost at host',
    ],
    [
      'its row is for the program by its path, and the sockets show its name alone',
      whole(row('Radio', { program: 'C:\\Radio\\gullcast.exe' })),
      'unknown',
    ],
    [
      'its row is for another program',
      whole(row('Radio', { program: 'C:\\Radio\\old.exe' })),
      'lost at host',
    ],
    [
      'its row is for one kind of interface',
      whole(
        row('Radio').replace(
          'InterfaceTypes:                       Any',
          'InterfaceTypes:                       Wireless',
        ),
      ),
      'unknown',
    ],
    [
      'whose the listening port is was not listed',
      whole(row('Radio', { program: 'gullcast.exe' }), {
        'host/sockets':
          'LocalAddress  : 0.0.0.0\n' +
          'LocalPort     : 8214\n' +
          'RemoteAddress : 0.0.0.0\n' +
          'RemotePort    : 0\n' +
          'State         : Listen\n' +
          'OwningProcess : 1234\n',
      }),
      'unknown',
    ],
    ['its row has a word for its ports', whole(row('Radio', { port: 'RPC' })), 'unknown'],
    [
      'the profile lets nothing in, whatever rows say',
      {
        ...whole(row('Radio')),
        'host/profiles': PROFILES('ON').replaceAll('BlockInbound,', 'BlockInboundAlways,'),
      },
      'lost at host',
    ],
    [
      'rows made on the machine are not used',
      {
        ...whole(row('Radio')),
        'host/profiles': PROFILES('ON').replaceAll('N/A (GPO-store only)', 'Disable'),
      },
      'unknown',
    ],
    [
      'a list of addresses that was cut: the rest may hold the client',
      whole(row('Radio', { remote: '203.0.113.0/24,1' })),
      'unknown',
    ],
    ['the short listing does not say for which program a row is', whole(brief(row('Radio'))), 'unknown'],
    [
      'only one row was listed, and it allows: another may block',
      { ...whole(''), 'host/firewall': PART + row('Radio') },
      'unknown',
    ],
    [
      'only one row was listed, and it blocks',
      { ...whole(''), 'host/firewall': PART + row('Keep out', { action: 'Block' }) },
      'lost at host',
    ],
    ['the firewall is off', { 'host/profiles': PROFILES('OFF') }, 'answered at host'],
    ['only the profiles were listed', { 'host/profiles': PROFILES('ON') }, 'unknown'],
    [
      'rows but no profiles: a profile may let nothing in, whatever rows say',
      { 'host/firewall': OTHERS + row('Radio') },
      'unknown',
    ],
    ['rows but no profiles: without a row it may still be off', { 'host/firewall': OTHERS }, 'unknown'],
    [
      'the active profile is not known and matters',
      { 'host/firewall': OTHERS + row('Radio', { profiles: 'Public' }), 'host/profiles': PROFILES('ON') },
      'unknown',
    ],
  ];
  for (const [title, files, expected] of table)
    it(`${title}: ${expected}`, () =>
      expect(outcome(run(at(files), '198.51.100.23', '203.0.113.50:8214/tcp'))).to.equal(expected));

  it('one paste with profiles, rows and the network’s category', () => {
    const site = at({
      'host/firewall':
        PROFILES('ON') + OTHERS + row('Radio', { profiles: 'Private' }) + 'Ok.\n\n\n' + PRIVATE,
    });
    expect(outcome(run(site, '198.51.100.23', '203.0.113.50:8214/tcp'))).to.equal('answered at host');
  });

  it('rows as objects without their ports decide nothing', () => {
    const objects = JSON.stringify([
      { Name: 'radio', DisplayName: 'Radio', Enabled: 1, Profile: 2, Direction: 1, Action: 2 },
    ]);
    expect(
      outcome(
        run(
          at({ 'host/firewall': objects, 'host/profiles': PROFILES('ON'), 'host/active': PRIVATE }),
          '198.51.100.23',
          '203.0.113.50:8214/tcp',
        ),
      ),
    ).to.equal('unknown');
  });

  it('profiles in other languages and as objects', () => {
    const profiles = (text: string) =>
      caseFacts([{ id: 'host', role: 'host' }], { 'host/p': text }).files[0]!.facts.map(
        (f) => printed(f)?.value,
      );
    const RULER = '-'.repeat(70);
    expect(
      profiles(
        'Öffentliches Profil-Einstellungen:\n' +
          `${RULER}\n` +
          'Status                                EIN\n' +
          'Firewallrichtlinie                    BlockInbound,AllowOutbound\n',
      ),
    ).to.deep.equal([{ name: 'public', on: true, in: 'block', out: 'allow' }]);
    expect(
      profiles(
        'Paramètres Profil privé :\n' +
          `${RULER}\n` +
          'État                                  Inactif\n' +
          'Stratégie de pare-feu                 BlockInbound,AllowOutbound\n',
      ),
    ).to.deep.equal([{ name: 'private', on: false, in: 'block', out: 'allow' }]);
    expect(
      profiles(
        '[{"Name":"Domain","Enabled":1,"AllowInboundRules":2,"DefaultInboundAction":4,' +
          '"DefaultOutboundAction":2},{"Name":"Private","Enabled":0,"AllowInboundRules":2,' +
          '"DefaultInboundAction":0,"DefaultOutboundAction":0}]',
      ),
    ).to.deep.equal([
      { name: 'domain', on: true, in: 'block', out: 'allow' },
      { name: 'private', on: false, in: 'block', out: 'allow' },
    ]);
  });
});
