import { expect } from 'chai';
import { parseAddress } from '../../net/index.ts';
import { caseSite, type TestStop } from '../../testing/index.ts';
import { otherLineFault } from './openFaults.ts';

const WAY: readonly TestStop[] = ['client', 'gateway', 'host'].map((role) => ({ id: role, role }));
const ADDRESSES =
  '2: wan0: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n    inet 198.51.100.50/26 scope global wan0\n' +
  '3: wan1: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n    inet 198.51.100.148/26 scope global wan1\n' +
  '4: br-lan: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n    inet 10.0.0.1/24 scope global br-lan\n';
// The second line has a table of its own, which is listed first.
const ROUTES =
  'default via 198.51.100.129 dev wan1 table 100\n' +
  'default via 198.51.100.1 dev wan0\n' +
  '10.0.0.0/24 dev br-lan scope link src 10.0.0.1\n' +
  '198.51.100.0/26 dev wan0 scope link src 198.51.100.50\n' +
  '198.51.100.128/26 dev wan1 scope link src 198.51.100.148\n';
const RULES = '0:\tfrom all lookup local\n32766:\tfrom all lookup main\n32767:\tfrom all lookup default\n';

const found = (dialled: string, rules = RULES, routes = ROUTES, addresses = ADDRESSES): string[] =>
  otherLineFault(
    caseSite(WAY, { 'gateway/addresses': addresses, 'gateway/routes': routes, 'gateway/rules4': rules }),
    parseAddress(dialled)!,
  ).map((f) => f.id);

describe('a router with two lines outward', () => {
  it('answers by the other one where nothing leads to the table of the line that was dialled', () =>
    expect(found('198.51.100.148')).to.deep.equal(['wan-other-line']));

  it('answers by the line that was dialled where that is its way out', () =>
    expect(found('198.51.100.50')).to.deep.equal([]));

  it('may answer by the line that was dialled where a rule leads to that line’s table', () =>
    expect(found('198.51.100.148', `${RULES}1000:\tfrom all fwmark 0x64 lookup 100\n`)).to.deep.equal([]));

  it('is not suspected where it has one line alone', () => {
    const one = ADDRESSES.split('\n').slice(2).join('\n');
    expect(found('198.51.100.148', RULES, ROUTES, one)).to.deep.equal([]);
  });
});
