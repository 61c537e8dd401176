import { expect } from 'chai';
import { printed } from '../facts/index.ts';
import { outcome, run, caseSite } from '../testing/index.ts';
import { readText } from '../reading/index.ts';

/**
 * The same list in the layouts that exports have: nested permissions, flat rules, rules with properties, and
 * a table.
 */
const NESTED = (source: string): string =>
  JSON.stringify(
    {
      Groups: [
        {
          GroupName: 'db',
          Description: 'tide book',
          Permissions: [
            {
              IpProtocol: 'tcp',
              FromPort: 5432,
              ToPort: 5432,
              IpRanges: [{ CidrIp: source, Description: 'office' }],
              PairedGroups: [],
            },
          ],
          PermissionsEgress: [{ IpProtocol: '-1', IpRanges: [{ CidrIp: '0.0.0.0/0' }] }],
        },
      ],
    },
    null,
    1,
  );
const FLAT = (source: string): string =>
  JSON.stringify([
    {
      name: 'tide book',
      direction: 'INGRESS',
      allowed: [{ IPProtocol: 'tcp', ports: ['5432'] }],
      sourceRanges: [source],
      disabled: false,
    },
  ]);
const PROPERTIES = (source: string): string =>
  JSON.stringify({
    rules: [
      {
        name: 'office',
        properties: {
          access: 'Allow',
          direction: 'Inbound',
          protocol: 'Tcp',
          priority: 100,
          sourceAddressPrefix: source,
          sourcePortRange: '*',
          destinationAddressPrefix: '*',
          destinationPortRange: '5432',
        },
      },
    ],
  });
const TABLE = (source: string): string =>
  `Name,Protocol,Port range,Source\n"office, first floor",TCP,5432,${source}\nping,ICMP,all,0.0.0.0/0\n`;
const LAYOUTS = { NESTED, FLAT, PROPERTIES, TABLE };

const RULES = 'table inet none {\n}\n';
const at = (list: string | Record<string, string>, isAll = false) => {
  const files: Readonly<Record<string, string>> = {
    'host/a':
      '1: lo: <LOOPBACK,UP,LOWER_UP> mtu 65536 state UNKNOWN\n' +
      '    inet 127.0.0.1/8 scope host lo\n' +
      '2: ens3: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n' +
      '    inet 203.0.113.80/28 scope global ens3\n',
    'host/r': 'default via 203.0.113.81 dev ens3\n203.0.113.80/28 dev ens3 scope link\n',
    'host/s':
      'Netid State Recv-Q Send-Q Local Address:Port Peer Address:PortProcess\n' +
      'tcp LISTEN 0 16 0.0.0.0:5432 0.0.0.0:* users:(("postgres",pid=1,fd=3))\n' +
      'udp UNCONN 0 0 0.0.0.0:68 0.0.0.0:* users:(("dhcp",pid=2,fd=3))\n',
    'host/n': RULES,
    ...(typeof list === 'string' ? { 'perimeter/list': list } : list),
  };
  const evidence = Object.keys(files).map((name) => ({
    stop: name.split('/')[0],
    file: `evidence/${name}.txt`,
    ...(isAll || name.startsWith('host/') ? { whole: true } : {}),
  }));
  const path = [
    { id: 'client', role: 'client' },
    { id: 'carrier', role: 'carrier' },
    { id: 'perimeter', role: 'edge' },
    { id: 'host', role: 'host' },
  ];
  return caseSite(path, files, { evidence });
};
const tried = (list: string | Record<string, string>, isAll = false): string =>
  outcome(run(at(list, isAll), '198.51.100.23', '203.0.113.80:5432/tcp'));

describe('a cloud’s allow list, whatever its layout', () => {
  for (const [name, layout] of Object.entries(LAYOUTS)) {
    it(`${name}: the row is found, and lets its source in`, () => {
      const reading = readText(layout('198.51.100.0/24'))!;
      expect(reading.format).to.equal('allow-list');
      expect(
        reading.facts
          .flatMap((f) => printed(f) ?? [])
          .filter((p) => p.group === 'allowRows')
          .map((p) => ({ ...(p.value as object), name: undefined })),
      ).to.deep.equal([{ name: undefined, protocol: 'tcp', ports: '5432', sources: ['198.51.100.0/24'] }]);
      expect(tried(layout('198.51.100.0/24'))).to.equal('answered at host');
    });
    it(`${name}: one digit off lets nobody in, but another list may`, () =>
      expect(tried(layout('198.51.100.33/32'))).to.equal('unknown'));
    it(`${name}: one digit off lets nobody in, where somebody says that there is no other list`, () =>
      expect(tried(layout('198.51.100.33/32'), true)).to.equal('lost at perimeter'));
  }

  it('what a row means that names a group, or mixes protocols, stays open', () => {
    expect(tried('[{"protocol":"tcp","ports":"5432","sourceGroup":"office"}]')).to.equal('unknown');
    expect(
      tried(
        '[{"sourceRanges":["0.0.0.0/0"],"allowed":[{"IPProtocol":"tcp","ports":["22"]},' +
          '{"IPProtocol":"udp","ports":["5432"]}]}]',
      ),
    ).to.equal('unknown');
    expect(tried('[{"protocol":"tcp","ports":"5432","cidr":"0.0.0.0/0","targetTags":["db"]}]')).to.equal(
      'unknown',
    );
    expect(tried('[{"protocol":"tcp","ports":"5432","cidr":"0.0.0.0/0","targetName":"db"}]')).to.equal(
      'unknown',
    );
  });

  it('rows that refuse are not taken for rows that allow', () => {
    expect(
      tried(
        '[{"protocol":"tcp","ports":"5432","cidr":"0.0.0.0/0","action":"allow"},{"protocol":"tcp",' +
          '"ports":"5432","cidr":"198.51.100.23/32","action":"deny"}]',
      ),
    ).to.equal('unknown');
    expect(
      tried('[{"denied":[{"IPProtocol":"tcp","ports":["5432"]}],"sourceRanges":["0.0.0.0/0"]}]'),
    ).to.equal('unknown');
  });

  it('switched-off and outward rows let nobody in', () => {
    for (const row of ['"disabled":true', '"enabled":false', '"IsEgress":true', '"direction":"outbound"'])
      expect(tried(`[{"protocol":"tcp","ports":"5432","cidr":"0.0.0.0/0",${row}}]`), row).to.equal('unknown');
  });

  it('several groups in one export, and a row whose state is not understood, stay open', () => {
    const group = (name: string) =>
      JSON.parse(NESTED('0.0.0.0/0').replace('"db"', `"${name}"`)).Groups[0] as object;
    expect(tried(JSON.stringify({ Groups: [group('web'), group('db')] }))).to.equal('unknown');
    expect(tried('[{"protocol":"tcp","ports":"5432","cidr":"0.0.0.0/0","status":"pending"}]')).to.equal(
      'unknown',
    );
  });

  const STATELESS = (out: readonly object[]): string =>
    JSON.stringify({
      in: [{ protocol: 'tcp', fromPort: 5432, toPort: 5432, source: '198.51.100.0/24' }],
      subnetList: {
        stateful: false,
        in: [{ protocol: 'any', source: '0.0.0.0/0', action: 'allow' }],
        out,
      },
    });

  it('a stateless list of the subnet lets the answer out, or not', () => {
    const high = {
      protocol: 'tcp',
      fromPort: 1024,
      toPort: 65535,
      destination: '0.0.0.0/0',
      action: 'allow',
    };
    expect(tried(STATELESS([high]), true)).to.equal('answered at host');
    const web = { protocol: 'tcp', fromPort: 80, toPort: 80, destination: '0.0.0.0/0', action: 'allow' };
    expect(tried(STATELESS([web]), true)).to.equal('lost at perimeter (reply)');
  });

  it('rows of another list in the same export leave it open', () => {
    const list = JSON.stringify({
      in: [{ protocol: 'tcp', fromPort: 22, toPort: 22, source: '198.51.100.0/24' }],
      subnetAcl: { in: [{ protocol: 'any', source: '0.0.0.0/0' }] },
    });
    expect(tried(list, true)).to.equal('unknown');
  });

  it('rows of a stateless list are asked by their numbers', () => {
    const row = (number: number, action: string) => ({
      number,
      protocol: 'any',
      destination: '0.0.0.0/0',
      action,
    });
    expect(tried(STATELESS([row(20, 'deny'), row(10, 'allow')]), true)).to.equal('answered at host');
    expect(tried(STATELESS([row(10, 'deny'), row(20, 'allow')]), true)).to.equal('lost at perimeter (reply)');
  });

  for (const [title, list, expected] of [
    [
      'a sentence that refuses beside one that allows',
      'tcp 5432 from any\ndeny tcp 5432 from 198.51.100.23\n',
      'unknown',
    ],
    ['a sentence', 'tcp 5432 from 198.51.100.0/24\n', 'answered at host'],
    ['a sentence for others', 'tcp 5432 from 192.0.2.0/24\n', 'lost at perimeter'],
    ['a group of which nobody knows the members', 'tcp 5432 · source group tide\n', 'unknown'],
    [
      'a group with the client',
      'tcp 5432 · source group tide\ngroup tide: 198.51.100.23\n',
      'answered at host',
    ],
    ['a group without it', 'tcp 5432 · source group tide\ngroup tide: 10.4.0.0/24\n', 'lost at perimeter'],
  ] as const)
    it(`in words: ${title}`, () => expect(tried(list, true)).to.equal(expected));

  it('several lists add up', () =>
    expect(
      tried({ 'perimeter/one': NESTED('192.0.2.0/24'), 'perimeter/two': TABLE('198.51.100.23/32') }),
    ).to.equal('answered at host'));
});
