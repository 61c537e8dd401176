import { expect } from 'chai';
import { caseFacts } from '../testing/index.ts';
import { lastSystem, systemAt } from './index.ts';

const PATH = [
  { id: 'client', role: 'client' },
  { id: 'host', role: 'host' },
];
const of = (files: Readonly<Record<string, string>>) => systemAt(caseFacts(PATH, files), 'host');

describe('the system of a machine, by what its programs print', () => {
  const table: readonly (readonly [string, Readonly<Record<string, string>>, string | null])[] = [
    ['nothing shown', {}, null],
    [
      'routes of Linux',
      { 'host/routes': 'default via 192.168.50.1 dev eno1\n192.168.50.0/24 dev eno1 scope link\n' },
      'linux',
    ],
    [
      'a listing of addresses of Windows',
      {
        'host/addresses':
          'Windows IP Configuration\n\nEthernet adapter Ethernet:\n\n' +
          '   IPv4 Address. . . . . . . . . . . : 192.168.50.20\n' +
          '   Subnet Mask . . . . . . . . . . . : 255.255.255.0\n' +
          '   Default Gateway . . . . . . . . . : 192.168.50.1\n',
      },
      'windows',
    ],
    [
      'interfaces of macOS',
      {
        'host/addresses':
          'lo0: flags=8049<UP,LOOPBACK,RUNNING,MULTICAST> mtu 16384\n\tinet 127.0.0.1 netmask 0xff000000\n' +
          'en0: flags=8863<UP,BROADCAST,RUNNING,MULTICAST> mtu 1500\n' +
          '\tinet 192.168.50.20 netmask 0xffffff00 broadcast 192.168.50.255\n\tstatus: active\n',
      },
      'macos',
    ],
    [
      'the same program on Linux',
      {
        'host/addresses':
          'eth0: flags=4163<UP,BROADCAST,RUNNING,MULTICAST>  mtu 1500\n' +
          '        inet 192.168.50.20  netmask 255.255.255.0  broadcast 192.168.50.255\n',
      },
      'linux',
    ],
    ['a filter of the BSDs', { 'host/rules': 'block drop in all\n' }, 'macos'],
    [
      'two systems in one place',
      { 'host/rules': 'block drop in all\n', 'host/routes': 'default via 192.168.50.1 dev eno1\n' },
      null,
    ],
  ];
  for (const [title, files, expected] of table)
    it(`${title}: ${expected}`, () => expect(of(files)).to.equal(expected));

  it('of two systems the last one listed is asked', () => {
    const files = {
      'host/routes': 'default via 192.168.50.1 dev eno1\n',
      'host/rules': 'block drop in all\n',
    };
    expect(lastSystem(caseFacts(PATH, files), 'host')).to.equal('macos');
    expect(lastSystem(caseFacts(PATH, {}), 'host')).to.equal(null);
  });

  it('another machine’s listing says nothing', () =>
    expect(of({ 'client/routes': 'default via 198.51.100.1 dev eno1\n' })).to.equal(null));
});
