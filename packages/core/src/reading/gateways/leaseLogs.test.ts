import { expect } from 'chai';
import { readText } from '../recognise.ts';

const leases = (text: string, format: string): string[] => {
  const reading = readText(text);
  expect(reading?.format).to.equal(format);
  return (reading?.facts ?? []).flatMap((f) =>
    f.kind === 'lease' ? [`${f.address} ${f.mac ?? '-'} ${f.name ?? '-'} ${f.expires ?? 'never'}`] : [],
  );
};
const problems = (text: string): string[] => readText(text)?.problems.map((p) => `${p.line}: ${p.why}`) ?? [];

const lease = (address: string, lines: string): string => `lease ${address} {\n${lines}}\n`;
const ACTIVE = '  binding state active;\n';

describe('leases of the daemons that write them', () => {
  it('dhcpd.leases: the last block of an address counts, and only an active one', () => {
    const text =
      lease(
        '192.168.50.20',
        '  starts 3 2026/11/25 08:00:00;\n' +
          '  ends 3 2026/11/25 20:00:00;\n' +
          `${ACTIVE}  hardware ethernet 02:48:4E:00:00:20;\n` +
          '  client-hostname "heron";\n',
      ) +
      lease('192.168.50.21', `  ends never;\n${ACTIVE}  hardware ethernet 02:48:4e:00:00:21;\n`) +
      lease('192.168.50.22', `  ends 3 2026/11/25 20:00:00;\n  binding state free;\n`) +
      lease(
        '192.168.50.20',
        `  ends 4 2026/11/26 20:00:00;\n${ACTIVE}  hardware ethernet 02:48:4e:00:00:20;\n`,
      );
    expect(leases(text, 'isc-leases')).to.deep.equal([
      `192.168.50.20 02:48:4e:00:00:20 - ${Date.parse('2026-11-26T20:00:00Z') / 1000}`,
      '192.168.50.21 02:48:4e:00:00:21 - never',
    ]);
  });

  it('dhcpd.leases: a block that was freed later is gone, one that is cut off is said', () => {
    const text =
      lease('192.168.50.20', `${ACTIVE}  hardware ethernet 02:48:4e:00:00:20;\n`) +
      lease('192.168.50.20', '  binding state free;\n') +
      'lease 192.168.50.23 {\n  binding state active;\n';
    expect(leases(text, 'isc-leases')).to.deep.equal([]);
    expect(problems(text)).to.deep.equal(['8: lease-cut']);
  });

  const KEA =
    'address,hwaddr,client_id,valid_lifetime,expire,subnet_id,' +
    'fqdn_fwd,fqdn_rev,hostname,state,user_context,pool_id\n';

  it('Kea: the last row of an address counts; states and lifetimes that end it', () => {
    const text = `${KEA}192.168.50.20,02:48:4e:00:00:20,,3600,1795000000,1,0,0,heron.,0,,0
192.168.50.21,02:48:4e:00:00:21,,4294967295,0,1,0,0,,0,,0
192.168.50.22,02:48:4e:00:00:22,,3600,1795000000,1,0,0,gull,0,,0
192.168.50.22,02:48:4e:00:00:22,,0,1795000000,1,0,0,gull,0,,0
192.168.50.23,02:48:4e:00:00:23,,3600,1795000000,1,0,0,tern,2,,0
`;
    expect(leases(text, 'kea-leases')).to.deep.equal([
      '192.168.50.20 02:48:4e:00:00:20 heron 1795000000',
      '192.168.50.21 02:48:4e:00:00:21 - never',
    ]);
  });

  it('Kea: a row that is none is said, with its line', () =>
    expect(problems(`${KEA}192.168.50.20,02:48:4e:00:00:20\nnonsense,a,b,c,d,e\n`)).to.deep.equal([
      '2: no-lease',
      '3: no-lease',
    ]));

  it('what a client was given, in the words of several clients', () => {
    const given = (text: string): unknown[] =>
      (readText(text)?.facts ?? []).map((f) => f.kind === 'noted' && [f.topic, f.value]);
    expect(
      given('udhcpc: lease of 192.168.50.142 obtained from 192.168.50.1, lease time 43200\n'),
    ).to.deep.equal([
      ['lease', '192.168.50.142'],
      ['server', '192.168.50.1'],
    ]);
    expect(given('dhclient[7]: bound to 192.168.50.142 -- renewal in 1000 seconds.\n')).to.deep.equal([
      ['lease', '192.168.50.142'],
    ]);
    expect(given('dhcpcd-9.4.1: eno1: leased 192.168.50.142 for 3600 seconds\n')).to.deep.equal([
      ['lease', '192.168.50.142'],
    ]);
    expect(problems('udhcpc: no lease, failing\n')).to.deep.equal(['1: lease-refused']);
  });
});
