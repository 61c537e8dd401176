import { expect } from 'chai';
import { readText } from '../recognise.ts';

const LO =
  '1: lo: <LOOPBACK,UP,LOWER_UP> mtu 65536 qdisc noqueue state UNKNOWN group default qlen 1000\n' +
  '    link/loopback 00:00:00:00:00:00 brd 00:00:00:00:00:00\n' +
  '    inet 127.0.0.1/8 scope host lo\n';
const HEAD = '2: ens192: <NO-CARRIER,BROADCAST,MULTICAST,UP> mtu 1500 qdisc fq_codel state DOWN\n';
const LINK = '    link/ether 02:00:5e:70:00:10 brd ff:ff:ff:ff:ff:ff\n';
const INET = '    inet 192.168.50.20/24 brd 192.168.50.255 scope global dynamic ens192\n';
const INET6 = '    inet6 2001:db8:50::20/64 scope global\n';

const seen = (text: string): string[] => {
  const { facts = [], problems = [] } = readText(text) ?? {};
  const addresses = facts.flatMap((f) => (f.kind === 'address' ? [`${f.interface} ${f.address}`] : []));
  return [...addresses, ...problems.map((p) => `line ${p.line}`)];
};

describe('a listing of addresses in which the line of an interface is missing', () => {
  it('whole, each address is on its own interface', () =>
    expect(seen(LO + HEAD + LINK + INET + INET6)).to.deep.equal([
      'lo 127.0.0.1',
      'ens192 192.168.50.20',
      'ens192 2001:db8:50::20',
    ]));

  it('an address of another label is on none of those before', () =>
    expect(seen(LO + INET + INET6)).to.deep.equal(['lo 127.0.0.1', 'line 4', 'line 5']));

  it('a second link layer begins another interface', () =>
    expect(seen(LO + LINK + INET6)).to.deep.equal(['lo 127.0.0.1', 'line 5']));

  it('a label of several words is the interface’s own', () =>
    expect(seen(`${HEAD}    inet 192.168.50.21/24 scope global secondary ens192:web\n`)).to.deep.equal([
      'ens192 192.168.50.21',
    ]));

  it('an address without a label is where it stands', () =>
    expect(seen(`${HEAD}    inet 192.168.50.21/24 scope global\n`)).to.deep.equal(['ens192 192.168.50.21']));
});
