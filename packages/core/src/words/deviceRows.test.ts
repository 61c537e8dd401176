import { expect } from 'chai';
import { formOf, SETTINGS_KINDS } from '../devices/index.ts';
import { deviceRowText } from './deviceRows.ts';

describe('rows of devices as sentences', () => {
  const CASES: readonly [Parameters<typeof deviceRowText>[0], string, Record<string, string>, string][] = [
    [
      'forward-table',
      'rows',
      { protocol: 'tcp', ports: '8214', to: '192.168.50.20', line: 'WAN 1', enabled: 'yes' },
      'TCP 8214 from anyone to 192.168.50.20, same port · line WAN 1',
    ],
    [
      'forward-table',
      'rows',
      {
        name: 'hall pages',
        protocol: 'tcp',
        ports: '443',
        to: '192.168.50.20',
        toPort: '8443',
        enabled: 'no',
      },
      'hall pages: TCP 443 from anyone to 192.168.50.20, port 8443 · off',
    ],
    [
      'forward-table',
      'rows',
      { protocol: 'udp', ports: '28410', state: 'staged', sources: '198.51.100.0/24' },
      'UDP 28410 from 198.51.100.0/24 to (inside address?), same port · entered, not applied',
    ],
    [
      'zone-firewall',
      'translations',
      { type: 'one-to-one', outside: '203.0.113.65', inside: '192.168.80.12', twoWay: 'yes' },
      'all of 203.0.113.65 is 192.168.80.12 · both ways',
    ],
    [
      'zone-firewall',
      'translations',
      { type: 'source', fromZone: 'LAN', toZone: 'WAN', to: 'wan1' },
      'from LAN to WAN anyone leave as wan1',
    ],
    [
      'zone-firewall',
      'rules',
      { name: 'radio', action: 'allow', services: 'tcp/8214', fromZone: 'WAN', toZone: 'DMZ' },
      'radio: lets tcp/8214 from WAN to DMZ',
    ],
    [
      'allow-list',
      'lists',
      { list: 'web', protocol: 'tcp', ports: '443', sources: 'any' },
      'TCP 443 from any · list web',
    ],
    [
      'host-profiles',
      'rows',
      { action: 'block', direction: 'in', protocol: 'tcp', localPorts: '5432', profiles: 'Public' },
      'blocks TCP 5432 from anyone · profiles Public',
    ],
    [
      'relay',
      'leases',
      { protocol: 'udp', port: '22222', to: '10.66.0.2' },
      'UDP 22222 to 10.66.0.2, same port',
    ],
    ['carrier', 'blocked', { protocol: 'tcp', ports: '25' }, 'blocks TCP 25'],
  ];
  for (const [kind, table, row, sentence] of CASES)
    it(sentence, () => expect(deviceRowText(kind, table, row)).to.equal(sentence));

  it('every table of every kind has sentences, and an empty row says what is open', () => {
    for (const kind of SETTINGS_KINDS)
      for (const table of formOf(kind).tables)
        expect(deviceRowText(kind, table.key, {}), `${kind} ${table.key}`).to.match(/\S/);
  });
});
