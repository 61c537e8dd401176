import { expect } from 'chai';
import { iptablesMeets } from '../../testing/index.ts';

type Row = readonly [condition: string, expected: 'hits' | 'misses' | 'open', packet?: string];

const ADDRESSES: readonly Row[] = [
  ['-s 198.51.100.23/32', 'hits'],
  ['-s 198.51.100.22/31', 'hits'],
  ['-s 198.51.100.24/29', 'misses'],
  ['! -s 198.51.100.23/32', 'misses'],
  ['-s 198.51.100.1,198.51.100.23', 'hits'],
  ['-d 198.51.100.9/32', 'hits'],
  ['! -d 198.51.100.9/32', 'misses'],
  ['-s house.example', 'open'],
  ['-m iprange --src-range 198.51.100.20-198.51.100.23', 'hits'],
  ['-m iprange --src-range 198.51.100.24-198.51.100.30', 'misses'],
  ['-m iprange --dst-range 198.51.100.9-198.51.100.9', 'hits'],
  ['-m iprange ! --dst-range 198.51.100.9-198.51.100.9', 'misses'],
  ['-s 2001:db8::/64', 'hits', 'tcp6'],
  ['-s 2001:db8:1::/64', 'misses', 'tcp6'],
  ['-m iprange --src-range 2001:db8::20-2001:db8::23', 'hits', 'tcp6'],
];

const INTERFACES: readonly Row[] = [
  ['-i eth0', 'hits'],
  ['-i eth1', 'misses'],
  ['-i eth+', 'hits'],
  ['-i et+', 'hits'],
  ['! -i lo', 'hits'],
  ['! -i eth0', 'misses'],
];

const PROTOCOLS: readonly Row[] = [
  ['-p tcp', 'hits'],
  ['-p udp', 'misses'],
  ['-p 6', 'hits'],
  ['-p 17', 'misses'],
  ['-p all', 'hits'],
  ['-p 0', 'hits'],
  ['! -p udp', 'hits'],
  ['! -p tcp', 'misses'],
  ['-p icmp', 'misses'],
  ['-p gre', 'misses'],
  ['-p nosuchprotocol', 'open'],
  ['-p udp', 'hits', 'udp'],
];

const PORTS: readonly Row[] = [
  ['-p tcp -m tcp --dport 80', 'hits'],
  ['-p tcp -m tcp --dport 81', 'misses'],
  ['-p tcp -m tcp --dport http', 'hits'],
  ['-p tcp -m tcp --dport 79:80', 'hits'],
  ['-p tcp -m tcp --dport 81:', 'misses'],
  ['-p tcp -m tcp --dport 80:', 'hits'],
  ['-p tcp -m tcp --dport :80', 'hits'],
  ['-p tcp -m tcp --dport :79', 'misses'],
  ['-p tcp -m tcp --dport nosuchservice', 'open'],
  ['-p tcp -m tcp --destination-port 80', 'hits'],
  ['-p tcp -m tcp --sport 40000', 'hits'],
  ['-p tcp -m tcp --sport 39999', 'misses'],
  ['-p tcp -m tcp --source-port 40000:', 'hits'],
  ['-p tcp -m tcp ! --sport 40000', 'misses'],
  ['-p udp -m udp --dport 53', 'hits', 'udp'],
  ['-p tcp -m tcp --dport 53', 'misses', 'udp'],
  ['-p tcp -m multiport --dports 22,80', 'hits'],
  ['-p tcp -m multiport --dports 22,79:81', 'hits'],
  ['-p tcp -m multiport --dports 22,443', 'misses'],
  ['-p tcp -m multiport ! --dports 22,80', 'misses'],
  ['-p tcp -m multiport --destination-ports 80', 'hits'],
  ['-p tcp -m multiport --sports 1:1023', 'misses'],
  ['-p tcp -m multiport --source-ports 40000', 'hits'],
  ['-p tcp -m multiport --ports 80', 'hits'],
  ['-p tcp -m multiport --ports 40000', 'hits'],
  ['-p tcp -m multiport --ports 81', 'misses'],
  ['-p tcp -m multiport ! --ports 80', 'misses'],
  ['-p tcp -m multiport ! --ports 81', 'hits'],
  ['-p tcp -m multiport --ports nosuchservice', 'open'],
];

const SESSIONS: readonly Row[] = [
  ['-m conntrack --ctstate NEW', 'hits'],
  ['-m conntrack --ctstate NEW,ESTABLISHED', 'hits'],
  ['-m conntrack --ctstate RELATED,ESTABLISHED', 'misses'],
  ['-m conntrack ! --ctstate RELATED,ESTABLISHED', 'hits'],
  ['-m conntrack --ctstate INVALID', 'misses'],
  ['-m conntrack --ctstate UNTRACKED', 'misses'],
  ['-m state --state NEW', 'hits'],
  ['-m conntrack --ctstate DNAT', 'misses'],
  ['-m conntrack ! --ctstate DNAT', 'hits'],
  ['-m conntrack --ctstate DNAT,NEW', 'hits'],
  ['-m conntrack --ctstate DNAT,ESTABLISHED', 'misses'],
  ['-m conntrack --ctstatus ASSURED', 'misses'],
  ['-m conntrack ! --ctstatus SEEN_REPLY', 'hits'],
  ['-m conntrack --ctstatus NOSUCHSTATUS', 'open'],
  ['-m conntrack --ctdir ORIGINAL', 'hits'],
  ['-m conntrack --ctdir REPLY', 'misses'],
  ['-m conntrack --ctproto 6', 'hits'],
  ['-m conntrack --ctproto udp', 'misses'],
  ['-m conntrack --ctorigsrc 198.51.100.0/24', 'hits'],
  ['-m conntrack --ctorigdst 198.51.100.9', 'hits'],
  ['-m conntrack --ctorigdst 198.51.100.8', 'misses'],
  ['-m conntrack --ctreplsrc 198.51.100.9', 'hits'],
  ['-m conntrack --ctrepldst 198.51.100.23', 'hits'],
  ['-m conntrack --ctrepldst 198.51.100.9', 'misses'],
  ['-m conntrack --ctorigdstport 80', 'hits'],
  ['-m conntrack --ctorigdstport 81', 'misses'],
  ['-m conntrack --ctorigsrcport 40000', 'hits'],
];

const KINDS: readonly Row[] = [
  ['-m addrtype --dst-type LOCAL', 'hits'],
  ['-m addrtype ! --dst-type LOCAL', 'misses'],
  ['-m addrtype --src-type LOCAL', 'misses'],
  ['-m addrtype --src-type UNICAST', 'hits'],
  ['-m addrtype --dst-type UNICAST,LOCAL', 'hits'],
  ['-m addrtype --dst-type NOSUCHTYPE', 'open'],
  ['-m pkttype --pkt-type host', 'hits'],
  ['-m pkttype --pkt-type unicast', 'hits'],
  ['-m pkttype --pkt-type broadcast', 'misses'],
  ['-m pkttype --pkt-type nosuchtype', 'open'],
  ['-m mark --mark 0', 'hits'],
  ['-m mark --mark 0x1', 'misses'],
  ['-m mark ! --mark 0x1', 'hits'],
  ['-m mark --mark 0x0/0xff', 'hits'],
  ['-m mark --mark nomark', 'open'],
];

const HEADERS: readonly Row[] = [
  ['-p tcp -m tcp --tcp-flags FIN,SYN,RST,ACK SYN', 'hits'],
  ['-p tcp -m tcp ! --tcp-flags FIN,SYN,RST,ACK SYN', 'misses'],
  ['-p tcp -m tcp --tcp-flags SYN,ACK SYN,ACK', 'misses'],
  ['-p tcp -m tcp --tcp-flags ALL NONE', 'misses'],
  ['-p tcp -m tcp --tcp-flags ALL SYN', 'hits'],
  ['-p tcp -m tcp --syn', 'hits'],
  ['-p tcp -m tcp ! --syn', 'misses'],
  ['-p icmp -m icmp --icmp-type 8', 'misses'],
  ['-p icmp -m icmp --icmp-type echo-request', 'misses'],
  ['-p icmp -m icmp --icmp-type 3/4', 'misses'],
  ['-p icmp -m icmp --icmp-type any', 'misses'],
  // Nobody knows with which time to live a client starts, so only what holds for all of them is sure.
  ['-m ttl --ttl-lt 10', 'misses'],
  ['-m ttl --ttl-gt 9', 'hits'],
  ['-m ttl --ttl-gt 63', 'hits'],
  ['-m ttl --ttl-gt 64', 'open'],
  ['-m ttl --ttl-eq 64', 'open'],
  ['-m ttl --ttl-eq 63', 'misses'],
  ['-m ttl --ttl-lt 64', 'misses'],
  ['-m ttl --ttl-lt 65', 'open'],
  ['-m hl --hl-gt 9', 'hits', 'tcp6'],
  ['-m connmark --mark 0x1', 'misses'],
  ['-m connmark --mark 0', 'hits'],
  ['-m conntrack --ctstatus NONE', 'misses'],
  ['-m frag --fragid 1', 'misses', 'tcp6'],
  ['-m frag ! --fragid 1', 'misses', 'tcp6'],
  ['-m rt --rt-type 0', 'misses', 'tcp6'],
  ['-m rt ! --rt-type 0', 'misses', 'tcp6'],
  ['! -f', 'hits'],
];

const OTHERS: readonly Row[] = [
  ['-m comment --comment "tide -p udp"', 'hits'],
  ['-m limit --limit 3/min', 'open'],
  ['-m hashlimit --hashlimit-above 3/min --hashlimit-name x', 'open'],
  ['-m connlimit --connlimit-above 3', 'open'],
  ['-m time --timestart 08:00', 'open'],
  ['-m recent --set --name x', 'hits'],
  ['-m recent --update --seconds 60 --name x', 'open'],
  ['-m statistic --mode random --probability 0.5', 'open'],
  ['-m string --string x --algo bm', 'open'],
  ['-m owner --uid-owner 0', 'open'],
  ['-m nosuchmodule --with 1', 'open'],
  ['-m nosuchmodule --with 1 -s 198.51.100.99', 'misses'],
  ['-m limit --limit 3/min -p udp', 'misses'],
];

describe('conditions of iptables, by whether they hit a new TCP packet (iptables-extensions(8))', () => {
  for (const [title, rows] of Object.entries({
    ADDRESSES,
    INTERFACES,
    PROTOCOLS,
    PORTS,
    SESSIONS,
    KINDS,
    HEADERS,
    OTHERS,
  }))
    describe(title.toLowerCase(), () => {
      for (const [condition, expected, packet = 'tcp'] of rows)
        it(`${condition}${packet === 'tcp' ? '' : ` (${packet})`}: ${expected}`, () =>
          expect(iptablesMeets(condition, packet)).to.equal(expected));
    });

  it('conditions on answers', () => {
    expect(iptablesMeets('-m conntrack --ctstate ESTABLISHED', 'tcp', 'OUTPUT')).to.equal('hits');
    expect(iptablesMeets('-m conntrack --ctstate NEW', 'tcp', 'OUTPUT')).to.equal('misses');
    expect(iptablesMeets('-m conntrack --ctdir REPLY', 'tcp', 'OUTPUT')).to.equal('hits');
    expect(iptablesMeets('-m conntrack --ctstatus SEEN_REPLY', 'tcp', 'OUTPUT')).to.equal('hits');
    expect(iptablesMeets('-p tcp -m tcp --tcp-flags SYN,ACK SYN,ACK', 'tcp', 'OUTPUT')).to.equal('hits');
    expect(iptablesMeets('-o eth0', 'tcp', 'OUTPUT')).to.equal('hits');
    expect(iptablesMeets('-o eth1', 'tcp', 'OUTPUT')).to.equal('misses');
  });
});
