import { expect } from 'chai';
import { compileNft } from '../../../devices/index.ts';
import { nftProgram } from '../../../testing/index.ts';
import { nftJson } from '../nftJson.ts';
import { nftText } from './index.ts';

const table = (body: string): string =>
  `table inet t {\n chain c {\n  type filter hook input priority filter; policy accept;\n  ${body}\n }\n}\n`;
const stepsOf = (body: string) => nftProgram(table(body)).chains[0]!.rules[0]!.steps;

describe('nft listings as text', () => {
  it('say the same as the JSON that nft prints for the same rule set', () => {
    // Printed by nft 1.0.6 for one rule set, with and without -j.
    const text =
      'table inet guard {\n' +
      '\tset offices {\n' +
      '\t\ttype ipv4_addr\n' +
      '\t\tflags interval\n' +
      '\t\telements = { 192.0.2.64/27, 192.0.2.130 }\n' +
      '\t}\n' +
      '\n' +
      '\tchain input {\n' +
      '\t\ttype filter hook input priority filter; policy drop;\n' +
      '\t\tct state established,related accept\n' +
      '\t\tip saddr @offices tcp dport 22 accept\n' +
      '\t\tip saddr 198.51.100.33 tcp dport { 80, 8000-8010 } accept comment "tide book"\n' +
      '\t}\n' +
      '}\n';
    const json =
      '{"nftables": [{"metainfo": {"version": "1.0.6", "release_name": "Lester Gooch #5", ' +
      '"json_schema_version": 1}}, {"table": {"family": "inet", "name": "guard", "handle": 1}}, ' +
      '{"set": {"family": "inet", "name": "offices", "table": "guard", "type": "ipv4_addr", ' +
      '"handle": 2, "flags": ["interval"], "elem": [{"prefix": {"addr": "192.0.2.64", "len": 27}}, ' +
      '"192.0.2.130"]}}, {"chain": {"family": "inet", "table": "guard", "name": "input", "handle": ' +
      '1, "type": "filter", "hook": "input", "prio": 0, "policy": "drop"}}, {"rule": {"family": ' +
      '"inet", "table": "guard", "chain": "input", "handle": 3, "expr": [{"match": {"op": "in", ' +
      '"left": {"ct": {"key": "state"}}, "right": ["established", "related"]}}, {"accept": ' +
      'null}]}}, {"rule": {"family": "inet", "table": "guard", "chain": "input", "handle": 4, ' +
      '"expr": [{"match": {"op": "==", "left": {"payload": {"protocol": "ip", "field": "saddr"}}, ' +
      '"right": "@offices"}}, {"match": {"op": "==", "left": {"payload": {"protocol": "tcp", ' +
      '"field": "dport"}}, "right": 22}}, {"accept": null}]}}, {"rule": {"family": "inet", "table": ' +
      '"guard", "chain": "input", "handle": 6, "comment": "tide book", "expr": [{"match": {"op": ' +
      '"==", "left": {"payload": {"protocol": "ip", "field": "saddr"}}, "right": "198.51.100.33"}}, ' +
      '{"match": {"op": "==", "left": {"payload": {"protocol": "tcp", "field": "dport"}}, "right": ' +
      '{"set": [80, {"range": [8000, 8010]}]}}}, {"accept": null}]}}]}';
    const compile = (reading: ReturnType<typeof nftText.read>) => {
      expect(reading.problems).to.deep.equal([]);
      const fact = reading.facts[0];
      if (fact?.kind !== 'nft') throw new Error('no rule set');
      return compileNft(fact.objects, 'x').baseChains.map((b) => ({
        ...b,
        chain: b.chain.rules.map((r) => r.steps),
      }));
    };
    expect(compile(nftText.read(text))).to.deep.equal(compile(nftJson.read(json)));
  });

  it('understands what generated rule sets hold', () => {
    for (const body of [
      'ct state vmap { established : accept, related : accept, invalid : drop }',
      'iifname { "eth0", "lan*" } accept',
      'tcp dport != { 22, 80 } drop',
      'meta l4proto { 1, 58 } accept',
      'ct state 0x2,0x4 accept',
      'tcp flags & (fin | syn | rst | ack) == syn accept',
      'ip saddr 10.0.0.1-10.0.0.9 drop',
      'ip saddr . tcp dport { 10.0.0.1 . 80, 10.0.0.2 . 8080 } accept',
      'meta mark & 0x000000ff == 0x10 accept',
      'meta mark set ct mark',
      'ct mark set meta mark & 0xffffff00 | 0x10',
      'fib daddr type local accept',
      'fib saddr . mark . iif oif missing drop',
      'limit rate 3/minute burst 10 packets log prefix "x: " level info',
      'counter packets 5 bytes 300 reject with icmpx 3',
      'ct original ip daddr 203.0.113.50 accept',
      '@nh,72,8 0x11 accept',
      'ip6 daddr { ::/96, 2002:a00::/24 } reject with icmpv6 addr-unreachable',
    ])
      expect(nftText.read(table(body)).problems, body).to.deep.equal([]);
  });

  it(
    'header bytes in a table for both families: one form for each family, none for IPv6 where the ' +
      'translation is to IPv4',
    () => {
      const rules = (body: string) => nftProgram(table(body)).chains[0]!.rules;
      expect(
        rules('@nh,72,8 0x11 th dport 28410 accept').map((r) => r.id.replace(/^.*\//, '')),
      ).to.deep.equal(['1', '1 (IPv6)']);
      const asked = nftProgram(
        'table inet t {\n' +
          ' chain c {\n' +
          '  type nat hook prerouting priority dstnat; policy accept;\n' +
          '  @nh,72,8 0x11 th dport 28410 dnat ip to 192.168.50.20:28410\n' +
          ' }\n' +
          '}\n',
      ).chains[0]!.rules;
      expect(asked).to.have.length(1);
      expect(asked[0]!.steps.map((s) => s.do)).not.to.include('unmodelled-match');
    },
  );

  it('keeps handles and counters', () => {
    const fact = nftText.read(table('tcp dport 22 counter packets 5 bytes 300 drop # handle 7')).facts[0]!;
    expect(fact.kind === 'nft' && fact.objects.find((o) => o.is === 'rule')).to.deep.include({
      handle: 7,
      counted: { packets: 5, bytes: 300 },
      text: 'tcp dport 22 counter packets 5 bytes 300 drop',
    });
  });

  it('reads translations with ports, ranges and maps', () => {
    const nat = (body: string) =>
      nftProgram(`table ip n {\n chain c {\n  type nat hook prerouting priority -100;\n  ${body}\n }\n}\n`)
        .chains[0]!.rules[0]!.steps;
    expect(nat('tcp dport 80 dnat to 192.168.50.20:8080').at(-1)).to.deep.include({
      do: 'translate',
      side: 'destination',
    });
    expect(nat('dnat to tcp dport map { 80 : 192.168.50.20, 81 : 192.168.50.21 }').at(-1)).to.have.property(
      'do',
      'translate-map',
    );
    expect(nat('dnat ip to tcp dport map { 80 : 192.168.50.20 . 8080 }').at(-1)).to.have.property(
      'do',
      'translate-map',
    );
    expect(nat('redirect to :8080').at(-1)).to.deep.equal({
      do: 'redirect',
      ports: { first: 8080, last: 8080, base: null },
    });
  });

  it('keeps a rule that it cannot read as a doubt with its words, never drops it', () => {
    const reading = nftText.read(table('tcp dport 80 frobnicate 7 accept'));
    expect(reading.problems).to.have.length(1);
    expect(reading.problems[0]!.line).to.equal(4);
    expect(stepsOf('tcp dport 80 frobnicate 7 accept').at(-1)).to.have.property('do', 'unmodelled-action');
  });

  it('says where a listing is cut off, and doubts what may be missing', () => {
    const cut =
      'table inet t {\n chain c {\n  type filter hook input priority filter; policy drop;\n' +
      '  tcp dport 80 accept\n';
    expect(nftText.read(cut).problems.map((p) => p.why)).to.deep.equal([
      { is: 'table-not-closed', table: 'inet t' },
    ]);
    expect(nftProgram(cut).chains[0]!.rules.at(-1)!.steps[0]).to.have.property('do', 'unmodelled-action');
  });

  it('reads the numbers that nft 1.0.6 has no type for', () => {
    const untyped = (range: string): unknown => stepsOf(`ct original proto-dst ${range} accept`)[0];
    expect(untyped('0x4e22 [invalid type]')).to.deep.equal(untyped('20002'));
    expect(untyped('0x9c40 [invalid type]-0xffff [invalid type]')).to.deep.equal(untyped('40000-65535'));
    expect(untyped('!= 0x4e22 [invalid type]')).to.deep.equal(untyped('!= 20002'));
  });

  it('takes rules apart that a file has on one line', () => {
    const chain = nftProgram(
      'table inet t {\n chain c { type filter hook input priority 0; policy drop; ' +
        'tcp dport 22 accept; udp dport 53 accept; }\n}\n',
    ).chains[0];
    const alone = (rule: string): unknown => stepsOf(rule);
    expect(chain?.rules.map((r) => r.steps)).to.deep.equal([
      alone('tcp dport 22 accept'),
      alone('udp dport 53 accept'),
    ]);
  });

  it('leaves dormant tables out', () => {
    expect(
      nftProgram(
        'table inet t {\n flags dormant\n chain c {\n' +
          '  type filter hook input priority filter; policy drop;\n }\n}\n',
      ).baseChains,
    ).to.deep.equal([]);
  });
});
