import { expect } from 'chai';
import type { CaseDocument } from '../../case/index.ts';
import { DOCUMENT, FORWARDS, ADDRESSES, ROUTES, SOCKETS, RULES, WHOLE, bench } from '../../testing/index.ts';

describe('who holds the address that is dialled', () => {
  const DIALLED: CaseDocument = {
    ...DOCUMENT,
    client: { ...DOCUMENT.client!, dials: '203.0.113.50:8214' },
  };
  const TWO: CaseDocument = {
    ...DIALLED,
    path: [
      DOCUMENT.path[0]!,
      DOCUMENT.path[1]!,
      { id: 'outer', role: 'gateway', name: 'Outer' },
      DOCUMENT.path[2]!,
      DOCUMENT.path[3]!,
    ],
  };
  const INNER = {
    'gateway/status': 'WAN IP 192.168.1.2\nLAN IP 192.168.50.1\n',
    'gateway/forwards': FORWARDS,
  };
  const OUTER = { 'outer/status': 'WAN IP 203.0.113.50\nLAN IP 192.168.1.1\n' };

  it('another machine is said to hold the server’s own address: that is no way astray, but open', () => {
    const leases = 'Device\tMAC address\tIP address\ntablet\t02:48:4e:00:00:99\t192.168.50.20\n';
    const own = ADDRESSES.replace(/link\/ether \S+/, 'link/ether 02:48:4e:00:00:20');
    const view = bench({ ...WHOLE, 'server/addresses': own, 'gateway/leases': leases });
    expect(view.verdict.lamp).to.equal('fogged');
    expect(view.verdict.headline).to.contain('02:48:4e:00:00:99');
  });

  it('is not known while the gateway’s outside address is not', () => {
    expect(bench({ 'gateway/forwards': FORWARDS }, DIALLED).verdict.lamp).to.equal('fogged');
    const known = { 'gateway/forwards': FORWARDS, 'server/addresses': ADDRESSES };
    expect(bench(known, DIALLED).next).to.include({ kind: 'check', id: 'gateway/status' });
  });

  it('is not known while the gateway’s outside address is private: a router before it may forward', () => {
    expect(bench(INNER, DIALLED).verdict.lamp).to.equal('fogged');
    expect(bench(INNER, DIALLED).next).to.include({ kind: 'check', id: 'gateway/seen-address' });
    expect(
      bench({ ...INNER, 'gateway/seen': 'seen from outside 203.0.113.50\n' }, DIALLED).verdict.lamp,
    ).to.equal('fogged');
  });

  it('is not known where the only machine has private addresses: its provider may turn a public one', () => {
    const rented: CaseDocument = { ...DIALLED, path: [DOCUMENT.path[0]!, DOCUMENT.path[3]!] };
    const view = bench(
      {
        'server/addresses': ADDRESSES,
        'server/routes': ROUTES,
        'server/sockets': SOCKETS,
        'server/rules': RULES,
      },
      rented,
    );
    expect(view.verdict.lamp).to.equal('fogged');
    expect(view.next).to.include({ kind: 'check', id: 'server/seen-address' });
    expect(
      bench(
        {
          'server/addresses': ADDRESSES.replace('192.168.50.20', '203.0.113.9'),
          'server/routes': ROUTES,
          'server/sockets': SOCKETS,
          'server/rules': RULES,
        },
        rented,
      ).verdict.lamp,
    ).to.equal('shut');
  });

  it('is the carrier, where the technician says that no router stands before the gateway', () => {
    expect(
      bench(
        { ...INNER, 'gateway/seen': 'seen from outside 203.0.113.50\n' },
        { ...DIALLED, dismissed: ['second-gateway/gateway'] },
      ).verdict.headline,
    ).to.contain('Lost at the carrier');
  });

  it('is the carrier for an address of the shared space, whatever is dialled', () => {
    expect(bench({ 'gateway/status': 'WAN IP 100.72.1.2\n' }, DIALLED).verdict.headline).to.contain(
      '100.72.1.2, is shared by the carrier (RFC 6598); the client dials 203.0.113.50',
    );
  });

  it('two gateways in a row need two forwards, each to the next stop inwards', () => {
    const none = bench({ ...INNER, ...OUTER, 'outer/forwards': 'tcp 9000 192.168.1.7 9000\n' }, TWO);
    if (none.next.kind !== 'mend') throw new Error(`no mend but ${none.next.kind}`);
    expect(none.next.mend).to.include({ fault: 'outer-missing', stop: 'outer' });
    expect(none.next.mend.values).to.deep.include({
      label: 'Inside address',
      now: null,
      mended: '192.168.1.2',
    });
    const wrong = bench({ ...INNER, ...OUTER, 'outer/forwards': 'udp 8214 192.168.1.2 8214\n' }, TWO);
    if (wrong.next.kind !== 'mend') throw new Error('no mend');
    expect(wrong.next.mend).to.include({ fault: 'fwd-protocol', stop: 'outer' });
    const whole = bench(
      { ...WHOLE, ...INNER, ...OUTER, 'outer/forwards': 'tcp 8214 192.168.1.2 8214\n' },
      TWO,
    );
    expect(whole.verdict.lamp).to.equal('lit');
    const inner = bench(
      {
        ...WHOLE,
        ...INNER,
        ...OUTER,
        'outer/forwards': 'tcp 8214 192.168.1.2 8214\n',
        'gateway/forwards': 'udp 28410 192.168.50.20 28410\n',
      },
      TWO,
    );
    expect(inner.next.kind === 'mend' && inner.next.mend.fault).to.equal('inner-missing');
  });
});
