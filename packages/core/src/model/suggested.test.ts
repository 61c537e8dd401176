import { expect } from 'chai';
import { caseFacts } from '../testing/index.ts';
import { suggestedSettings } from './suggested.ts';

const PATH = [
  { id: 'client', role: 'client' },
  { id: 'edge', role: 'edge' },
  { id: 'gateway', role: 'gateway' },
  { id: 'host', role: 'host' },
];
const TABLE =
  'Name\tProtocol\tExternal port\tInternal IP\tInternal port\tStatus\n' +
  'gullcast\tTCP\t8214\t192.168.50.20\t8214\ton\n' +
  'reef\tUDP\t28410-28415\t192.168.50.20\t28410\toff\n' +
  'web\tTCP\t443\t192.168.50.20\t8443\ton\n';

describe('a device’s form is filled from its evidence', () => {
  it('with the rows of its table, and where they come from', () => {
    const found = suggestedSettings(caseFacts(PATH, { 'gateway/table': TABLE }), 'gateway');
    expect(found?.files).to.deep.equal(['evidence/gateway/table.txt']);
    expect(found?.settings).to.deep.equal({
      kind: 'forward-table',
      rows: [
        { name: 'gullcast', protocol: 'tcp', ports: 8214, to: '192.168.50.20', enabled: true },
        { name: 'reef', protocol: 'udp', ports: '28410-28415', to: '192.168.50.20', enabled: false },
        { name: 'web', protocol: 'tcp', ports: 443, to: '192.168.50.20', toPort: 8443, enabled: true },
      ],
    });
  });

  it('with the rows of a perimeter', () => {
    const found = suggestedSettings(
      caseFacts(PATH, { 'edge/list': 'Name,Protocol,Port range,Source\noffice,TCP,5432,198.51.100.23/32\n' }),
      'edge',
    );
    expect(found?.settings.kind).to.equal('allow-list');
  });

  const ZONES =
    'Name\tOutside address\tInside address\n' +
    'WEB-MAP\t203.0.113.52\t192.168.50.20\n' +
    '\n' +
    'Rules\n' +
    'Name\tFrom zone\tTo zone\tDestination\tService\tAction\n' +
    'web\toutside\tinside\tWEB-MAP\ttcp 80\tallow\n';
  const zones = (page: string) =>
    suggestedSettings(
      caseFacts(PATH, {
        'gateway/page': page,
        'gateway/status': 'WAN IP 203.0.113.50/29\nLAN IP 192.168.50.1\n',
      }),
      'gateway',
    );
  it('with the rules and mappings of a firewall with zones', () => {
    const settings = zones(ZONES)?.settings;
    expect(settings).to.deep.include({
      kind: 'zone-firewall',
      translations: [
        {
          type: 'one-to-one',
          name: 'WEB-MAP',
          outside: '203.0.113.52',
          inside: '192.168.50.20',
          twoWay: true,
          enabled: true,
        },
      ],
    });
    expect(settings?.kind === 'zone-firewall' && settings.rules).to.deep.equal([
      {
        name: 'web',
        action: 'allow',
        fromZone: 'outside',
        toZone: 'inside',
        destinations: ['WEB-MAP'],
        services: ['tcp/80'],
        enabled: true,
      },
    ]);
  });

  it('not with a rule of which something is open: a form would fill it in', () =>
    expect(zones(ZONES.replace('allow', 'inspect'))).to.equal(null));

  it('not with a table that nobody would look through in a form', () => {
    const rows = Array.from(
      { length: 201 },
      (_, i) => `row${i}\tTCP\t${1000 + i}\t192.168.50.20\t${1000 + i}\ton\n`,
    );
    const long = `${TABLE.slice(0, TABLE.indexOf('\n') + 1)}${rows.join('')}`;
    expect(suggestedSettings(caseFacts(PATH, { 'gateway/table': long }), 'gateway')).to.equal(null);
  });

  it('not at all where the evidence has no rows, and never for a client', () => {
    const facts = caseFacts(PATH, { 'gateway/status': 'WAN IP 203.0.113.50\n' });
    expect(suggestedSettings(facts, 'gateway')).to.equal(null);
    expect(suggestedSettings(facts, 'host')).to.equal(null);
    expect(suggestedSettings(facts, 'client')).to.equal(null);
  });
});
