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
    [
      'forward-table',
      'interfaces',
      { name: 'wan1', side: 'outside', up: 'no', filtersSources: 'yes', addresses: '203.0.113.50/24' },
      'wan1, outside · 203.0.113.50/24 · down · its carrier drops foreign senders',
    ],
    [
      'zone-firewall',
      'interfaces',
      { name: 'hall', side: 'inside', zone: 'DMZ', addresses: '192.168.80.1/24', gateway: '192.168.80.254' },
      'hall, inside · zone DMZ · 192.168.80.1/24 · next router 192.168.80.254',
    ],
    [
      'zone-firewall',
      'translations',
      { type: 'one-to-one', outside: '203.0.113.65', inside: '192.168.80.12', twoWay: 'no', enabled: 'no' },
      'all of 203.0.113.65 is 192.168.80.12 · inward only · off',
    ],
    [
      'translation-lines',
      'lines',
      { type: 'many', outside: '203.0.113.50' },
      'inside machines leave as 203.0.113.50',
    ],
    [
      'translation-lines',
      'lines',
      { type: 'address', outside: '203.0.113.51', inside: '192.168.50.20' },
      'all of 203.0.113.51 is 192.168.50.20',
    ],
    [
      'translation-lines',
      'lines',
      {
        type: 'ports',
        protocol: 'udp',
        outside: '203.0.113.50',
        outsidePort: '28410',
        inside: '192.168.50.20',
        insidePort: '28411',
      },
      'UDP 28410 of 203.0.113.50 to 192.168.50.20, port 28411',
    ],
    [
      'allow-list',
      'subnetList',
      { number: '90', direction: 'in', action: 'deny', protocol: 'any', peers: '198.51.100.0/24' },
      '90: inward drops any protocol all ports from 198.51.100.0/24',
    ],
    [
      'allow-list',
      'subnetList',
      { number: '100', direction: 'out', action: 'allow', protocol: 'tcp', ports: '1024-65535', peers: '' },
      '100: outward lets TCP 1024-65535 to anyone',
    ],
    [
      'host-profiles',
      'profiles',
      { name: 'Public', on: 'no', in: 'block', out: 'allow' },
      'Public, off · inward blocks what no row names · outward lets out what no row names',
    ],
    [
      'host-profiles',
      'rows',
      { action: 'allow', direction: 'out', protocol: 'tcp', program: 'C:/Reef/reef.exe', enabled: 'no' },
      'lets TCP all ports to anyone · program C:/Reef/reef.exe · profiles all · off',
    ],
    [
      'relay',
      'leases',
      { protocol: 'udp', port: '22222', to: '10.66.0.2', until: '20:00', by: 'the relay’s page' },
      'UDP 22222 to 10.66.0.2, same port · until 20:00 · asked with the relay’s page',
    ],
  ];
  for (const [kind, table, row, sentence] of CASES)
    it(sentence, () => expect(deviceRowText(kind, table, row)).to.equal(sentence));

  it('every table of every kind has sentences, and an empty row says what is open', () => {
    for (const kind of SETTINGS_KINDS)
      for (const table of formOf(kind).tables)
        expect(deviceRowText(kind, table.key, {}), `${kind} ${table.key}`).to.match(/\S/);
  });
});
