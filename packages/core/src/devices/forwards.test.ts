import { expect } from 'chai';
import { nftProgram } from '../testing/index.ts';
import { forwardsOf } from './forwards.ts';

const told = (rules: string, before = ''): string[] =>
  forwardsOf(
    nftProgram(
      `table ip nat {\n${before} chain pre {\n` +
        '  type nat hook prerouting priority dstnat; policy accept;\n' +
        rules
          .split('; ')
          .map((r) => `  ${r}\n`)
          .join('') +
        ' }\n}\n',
    ),
  ).map(
    (f) =>
      `${f.protocol ?? 'any'} ` +
      `${f.outside ?? '*'}:${f.outsidePorts.map((p) => `${p.first}-${p.last}`).join()} → ` +
      `${f.to ?? '*'}${f.toPorts ? `:${f.toPorts.join('-')}` : ''}${f.iif ? ` in ${f.iif}` : ''}` +
      `${f.iifNot ? ` not in ${f.iifNot}` : ''}${f.sources ? ` for ${f.sources.join()}` : ''}`,
  );

describe('forwards of a packet filter', () => {
  it('protocol, ports and target, with what they are for', () => {
    expect(told('tcp dport 8214 dnat to 192.168.50.20')).to.deep.equal(['tcp *:8214-8214 → 192.168.50.20']);
    expect(told('udp dport 28410-28415 dnat to 192.168.50.20:30000-30005')).to.deep.equal([
      'udp *:28410-28415 → 192.168.50.20:30000-30005',
    ]);
    expect(told('ip daddr 203.0.113.50 tcp dport { 80, 443 } dnat to 192.168.50.20')).to.deep.equal([
      'tcp 203.0.113.50:80-80,443-443 → 192.168.50.20',
    ]);
    expect(told('iifname "wan" ip saddr 198.51.100.0/24 tcp dport 22 dnat to 192.168.50.20')).to.deep.equal([
      'tcp *:22-22 → 192.168.50.20 in wan for 198.51.100.0/24',
    ]);
    expect(told('iifname != "lan" meta l4proto udp dnat to 192.168.50.20-192.168.50.22')).to.deep.equal([
      'udp *: → 192.168.50.20-192.168.50.22 not in lan',
    ]);
    expect(told('tcp dport 80 dnat to :8080')).to.deep.equal(['tcp *:80-80 → *:8080-8080']);
  });

  it('what is not plain narrows nothing here', () => {
    expect(
      told('tcp dport != 22 ip saddr != 198.51.100.0/24 ip daddr != 203.0.113.50 dnat to 192.168.50.20'),
    ).to.deep.equal(['any *: → 192.168.50.20']);
    expect(told('meta l4proto { tcp, udp } dnat to 192.168.50.20')).to.deep.equal(['any *: → 192.168.50.20']);
  });

  it('a row for each entry of a map', () =>
    expect(told('dnat to tcp dport map { 80 : 192.168.50.20, 81 : 192.168.50.21 }')).to.deep.equal([
      'tcp *:80-80 → 192.168.50.20',
      'tcp *:81-81 → 192.168.50.21',
    ]));

  it('the conditions of the jumps that lead to them', () => {
    const extra = ' chain extra {\n  tcp dport 8214 dnat to 192.168.50.20\n }\n';
    expect(told('iifname "wan" jump extra', extra)).to.deep.equal(['tcp *:8214-8214 → 192.168.50.20 in wan']);
    expect(told('ip daddr vmap { 203.0.113.50 : jump extra }', extra)).to.deep.equal([
      'tcp 203.0.113.50:8214-8214 → 192.168.50.20',
    ]);
  });

  it('jumps that go round in a circle come to an end', () =>
    expect(told('jump extra', ' chain extra {\n  jump extra\n }\n')).to.deep.equal([]));

  it('what leaves translated is no forward', () => {
    expect(told('masquerade')).to.deep.equal([]);
    expect(told('tcp dport 80 accept')).to.deep.equal([]);
  });
});
