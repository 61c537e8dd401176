import { expect } from 'chai';
import { caseFacts, type TestStop } from '../../testing/index.ts';
import { diagnosis } from './diagnosis.ts';

const rules = (forward: string, more = ''): string =>
  'table ip nat {\n' +
  '\tchain pre {\n' +
  '\t\ttype nat hook prerouting priority dstnat; policy accept;\n' +
  `\t\t${forward}\n` +
  '\t}\n' +
  '\tchain post {\n' +
  '\t\ttype nat hook postrouting priority srcnat; policy accept;\n' +
  `\t\toifname "wan0" masquerade\n${more}` +
  '\t}\n' +
  '}\n' +
  'table inet filter {\n' +
  '\tchain forward {\n' +
  '\t\ttype filter hook forward priority filter; policy drop;\n' +
  '\t\tct state established,related accept\n' +
  '\t\tiifname "br-lan" oifname "wan0" accept\n' +
  '\t\tiifname "wan0" oifname "br-lan" ct status dnat accept\n' +
  '\t}\n' +
  '}\n';
const WAY: readonly TestStop[] = ['client', 'gateway', 'host'].map((role) => ({ id: role, role }));
const HEARD = {
  service: { name: 'Gullcast', endpoints: [{ protocol: 'tcp', port: 8214 }], audience: 'anyone' },
  client: { address: '198.51.100.23', dials: '203.0.113.50:8214', symptom: 'lost' },
};
const found = (
  text: string,
  dials = '203.0.113.50:8214',
  path: readonly TestStop[] = WAY,
): (string | null)[] => {
  const d = diagnosis(
    caseFacts(path, { 'gateway/rules': text }, { ...HEARD, client: { ...HEARD.client, dials } }),
  );
  return [d.faults[0]?.id ?? null, d.nextChecks[0]?.id ?? null];
};

describe('a router of which its rules alone are known', () => {
  it('has a wrong forward whatever its addresses are', () => {
    expect(found(rules('iifname "wan0" udp dport 8214 dnat to 192.168.50.20'))[0]).to.equal('fwd-protocol');
    expect(found(rules('iifname "wan0" tcp dport 80 dnat to 192.168.50.31'))[0]).to.equal('fwd-none');
    expect(
      found(rules('iifname "wan0" ip saddr 192.0.2.7 tcp dport 8214 dnat to 192.168.50.20'))[0],
    ).to.equal('fwd-source');
  });

  it('has none, where the forward is right: where it leads is asked next', () =>
    expect(found(rules('iifname "wan0" tcp dport 8214 dnat to 192.168.50.20'))).to.deep.equal([
      null,
      'host/routes',
    ]));

  it('is asked for its address where its forwards name another than was dialled: either may be old', () => {
    const literal = rules('ip daddr 203.0.113.77 tcp dport 8214 dnat to 192.168.50.20');
    expect(found(literal)[0]).to.equal(null);
    expect(found(literal, 'radio.gannet.example.net:8214')[0]).to.equal(null);
  });

  it('is asked for its address where two lines lead out: which of them is meant is not told', () =>
    expect(
      found(
        rules('iifname "wan0" udp dport 8214 dnat to 192.168.50.20', '\t\toifname "wan1" masquerade\n'),
      )[0],
    ).to.equal(null));

  it('is found wrong before a second router as well, of which nothing is known', () => {
    const path = [...WAY.slice(0, -1), { id: 'inner', role: 'gateway' }, ...WAY.slice(-1)];
    const none = found(rules('iifname "wan0" tcp dport 80 dnat to 10.20.0.2'), undefined, path);
    expect(none[0]).to.equal('fwd-none');
    const right = found(rules('iifname "wan0" tcp dport 8214 dnat to 10.20.0.2'), undefined, path);
    expect(right[0]).to.equal(null);
  });
});
