import { expect } from 'chai';
import { existsSync, readFileSync } from 'node:fs';
import { gunzipSync } from 'node:zlib';
import { MATCHES, TARGETS } from './extensions.ts';
import { compileMatches } from './matches.ts';
import { options, type RuleContext } from './options.ts';
import { compileTarget } from './targets.ts';

/** Sections of iptables-extensions(8) as Debian 12 prints them (iptables 1.8.9). */
const DOCUMENTED_MATCHES =
  'addrtype ah bpf cgroup cluster comment connbytes connlabel connlimit connmark conntrack cpu dccp ' +
  'devgroup dscp dst ecn esp eui64 frag hashlimit hbh helper hl icmp icmp6 iprange ipv6header ipvs length ' +
  'limit mac mark mh multiport nfacct osf owner physdev pkttype policy quota rateest realm recent ' +
  'rpfilter rt sctp set socket state statistic string tcp tcpmss time tos ttl u32 udp';
const DOCUMENTED_TARGETS =
  'AUDIT CHECKSUM CLASSIFY CLUSTERIP CONNMARK CONNSECMARK CT DNAT DNPT DSCP ECN HL HMARK IDLETIMER LED LOG ' +
  'MARK MASQUERADE NETMAP NFLOG NFQUEUE NOTRACK RATEEST REDIRECT REJECT SECMARK SET SNAT SNPT SYNPROXY ' +
  'TCPMSS TCPOPTSTRIP TEE TOS TPROXY TRACE TTL ULOG';
const MANUAL = '/usr/share/man/man8/iptables-extensions.8.gz';

const context: RuleContext = { family: 4, table: 'mangle', side: 'destination', chain: () => null };
const words = (text: string) => options(text.split(' '));
const target = (text: string): string[] => {
  const [first, ...rest] = words(`-j ${text}`);
  return first ? compileTarget(first, rest, context).map((s) => s.do) : [];
};
const matches = (text: string): string[] => compileMatches(words(text), context).map((s) => s.do);

describe('every documented extension of iptables has its treatment', () => {
  for (const name of DOCUMENTED_MATCHES.split(' '))
    it(`-m ${name}`, () => expect(MATCHES).to.have.property(name));
  for (const name of DOCUMENTED_TARGETS.split(' '))
    it(`-j ${name}`, () => expect(TARGETS).to.have.property(name));

  // The manual of this machine may be of another version; where it has none the names above stand for it.
  it('and none of the installed manual is missing', () => {
    const text = existsSync(MANUAL) ? gunzipSync(readFileSync(MANUAL)).toString() : null;
    const documented = `${DOCUMENTED_MATCHES} ${DOCUMENTED_TARGETS}`.split(' ');
    const names = text === null ? documented : [...text.matchAll(/^\.SS (\w+)/gm)].map((m) => m[1] ?? '');
    expect(names.length).to.be.greaterThan(80);
    expect(names.filter((n) => !(n in MATCHES) && !(n in TARGETS))).to.deep.equal([]);
  });

  it('an open match may hit or not, whatever its options are', () => {
    for (const [name, { how }] of Object.entries(MATCHES))
      if (how === 'open')
        expect(matches(`-m ${name} --whatever 7`), name).to.deep.equal(['unmodelled-match']);
  });

  it('a match that earlier packets decide is one chance', () => {
    for (const [name, { how }] of Object.entries(MATCHES))
      if (how === 'chance') expect(matches(`-m ${name} --whatever 7`), name).to.deep.equal(['chance']);
    expect(matches('-m recent --set --name SSH')).to.deep.equal([]);
  });

  it('a target without effect lets the packet go on, an open one may do anything', () => {
    for (const [name, { how }] of Object.entries(TARGETS)) {
      if (how === 'no-effect') expect(target(name), name).to.deep.equal(['note']);
      if (how === 'open') expect(target(name), name).to.deep.equal(['unmodelled-action']);
    }
  });

  it('what nobody has documented is open', () => {
    expect(matches('-m flurb --whatever 7')).to.deep.equal(['unmodelled-match']);
    expect(matches('-p tcp -m tcp --flurb 7')).to.include('unmodelled-match');
    expect(target('FLURB')).to.deep.equal(['unmodelled-action']);
  });

  it('modelled targets do what they say', () => {
    const expected: Readonly<Record<string, string>> = {
      ACCEPT: 'verdict',
      DROP: 'verdict',
      RETURN: 'verdict',
      REJECT: 'verdict',
      'DNAT --to-destination 192.168.50.20': 'translate',
      'SNAT --to-source 203.0.113.50': 'translate',
      'NETMAP --to 192.168.50.0/24': 'translate',
      MASQUERADE: 'masquerade',
      REDIRECT: 'redirect',
      NOTRACK: 'notrack',
      'CT --notrack': 'notrack',
      'CT --zone 1': 'unmodelled-action',
      'MARK --set-mark 1': 'set-mark',
      'CONNMARK --save-mark': 'set-mark',
    };
    for (const [text, step] of Object.entries(expected)) expect(target(text), text).to.deep.equal([step]);
  });
});
