import { expect } from 'chai';
import { iptablesHost, iptablesMeets, outcome, run } from '../../testing/index.ts';

describe('targets of iptables', () => {
  const marked = (set: string, wanted: string): string =>
    iptablesMeets(`-m mark --mark ${wanted}`, 'tcp', 'INPUT', `-A INPUT -j MARK ${set}\n`);

  for (const [set, wanted] of [
    ['--set-mark 0x5', '0x5'],
    ['--set-mark 0x5/0x1', '0x5'],
    ['--set-xmark 0x5/0x1', '0x5'],
    ['--or-mark 0x6', '0x6'],
    ['--and-mark 0x6', '0'],
    ['--xor-mark 0x6', '0x6'],
  ] as const)
    it(`MARK ${set} leaves ${wanted}`, () => {
      expect(marked(set, wanted)).to.equal('hits');
      expect(marked(set, '0x77')).to.equal('misses');
    });

  it('marks are changed bit by bit (iptables-extensions(8), MARK)', () => {
    const after = (...sets: string[]): ((wanted: string) => string) => {
      const before = sets.map((s) => `-A INPUT -j MARK ${s}\n`).join('');
      return (wanted) => iptablesMeets(`-m mark --mark ${wanted}`, 'tcp', 'INPUT', before);
    };
    expect(after('--set-mark 0xf0', '--or-mark 0x0f')('0xff')).to.equal('hits');
    expect(after('--set-mark 0xff', '--and-mark 0x0f')('0x0f')).to.equal('hits');
    expect(after('--set-mark 0xff', '--xor-mark 0x0f')('0xf0')).to.equal('hits');
    expect(after('--set-mark 0xff', '--set-xmark 0x1/0x0f')('0xf1')).to.equal('hits');
    expect(after('--set-mark 0xf0', '--set-mark 0x1/0x0f')('0xf1')).to.equal('hits');
    expect(after('--set-mark 0xf0', '--set-mark 0x3/0x10')('0xe3')).to.equal('hits');
  });

  it('a session keeps a mark for its packets', () => {
    const before =
      '-A INPUT -j MARK --set-mark 0x9\n-A INPUT -j CONNMARK --save-mark\n' +
      '-A OUTPUT -j CONNMARK --restore-mark\n';
    expect(iptablesMeets('-m mark --mark 0x9', 'tcp', 'OUTPUT', before)).to.equal('hits');
    expect(iptablesMeets('-m mark --mark 0x8', 'tcp', 'OUTPUT', before)).to.equal('misses');
  });

  for (const [target, expected] of [
    ['ACCEPT', 'answered at host'],
    ['DROP', 'lost at host'],
    ['RETURN', 'answered at host'],
    ['REJECT', 'refused at host'],
    ['REJECT --reject-with tcp-reset', 'refused at host'],
    ['REJECT --reject-with icmp-admin-prohibited', 'refused at host'],
    ['LOG --log-prefix "x "', 'answered at host'],
    ['NFLOG --nflog-group 1', 'answered at host'],
    ['TCPMSS --clamp-mss-to-pmtu', 'answered at host'],
    ['CT --zone 1', 'unknown'],
    ['CT --helper ftp', 'answered at host'],
    ['NFQUEUE --queue-num 0', 'unknown'],
    ['MARK --nosuch 1', 'unknown'],
    ['CONNMARK --save-mark --nfmask 0xff --ctmask 0xff', 'unknown'],
    ['CONNMARK --restore-mark --nfmask 0xff --ctmask 0xff', 'unknown'],
    ['DNAT --to-destination nowhere', 'unknown'],
  ] as const)
    it(`-j ${target}: ${expected}`, () => {
      const site = iptablesHost(
        `*filter\n:INPUT ACCEPT [0:0]\n:OUTPUT ACCEPT [0:0]\n-A INPUT -j ${target}\nCOMMIT\n`,
        4,
      );
      expect(outcome(run(site, '198.51.100.23:40000', '198.51.100.9:80/tcp'))).to.equal(expected);
    });

  for (const [rule, to, expected] of [
    ['-A PREROUTING -p tcp -m tcp --dport 81 -j REDIRECT --to-ports 80', '81', 'answered at host'],
    [
      '-A PREROUTING -p tcp -m tcp --dport 81 -j DNAT --to-destination 198.51.100.9:80',
      '81',
      'answered at host',
    ],
    ['-A PREROUTING -p tcp -m tcp --dport 81 -j DNAT --to-destination :80', '81', 'answered at host'],
    ['-A PREROUTING -p tcp -m tcp --dport 81 -j DNAT --to-destination 198.51.100.9', '81', 'refused at host'],
    [
      '-A PREROUTING -p tcp -m tcp --dport 80:89 -j DNAT --to-destination 198.51.100.9:75-84/80',
      '85',
      'answered at host',
    ],
    // Below the base the distance is counted in 16 bits: a kernel took 8049 with base 8050 to the sixth port.
    [
      '-A PREROUTING -p tcp -m tcp --dport 90:110 -j DNAT --to-destination 198.51.100.9:75-84/100',
      '99',
      'answered at host',
    ],
    ['-A PREROUTING -d 198.51.100.0/24 -j NETMAP --to 198.51.100.0/24', '80', 'answered at host'],
  ] as const)
    it(`nat ${rule}`, () => {
      const site = iptablesHost(
        '*nat\n' +
          ':PREROUTING ACCEPT [0:0]\n' +
          ':INPUT ACCEPT [0:0]\n' +
          ':OUTPUT ACCEPT [0:0]\n' +
          ':POSTROUTING ACCEPT [0:0]\n' +
          `${rule}\n` +
          'COMMIT\n',
        4,
      );
      expect(outcome(run(site, '198.51.100.23:40000', `198.51.100.9:${to}/tcp`))).to.equal(expected);
    });

  it('an IPv6 target with a port stands in brackets', () => {
    const site = iptablesHost(
      '*nat\n' +
        ':PREROUTING ACCEPT [0:0]\n' +
        ':INPUT ACCEPT [0:0]\n' +
        ':OUTPUT ACCEPT [0:0]\n' +
        ':POSTROUTING ACCEPT [0:0]\n' +
        '-A PREROUTING -p tcp -m tcp --dport 81 -j DNAT --to-destination [2001:db8::9]:80\n' +
        'COMMIT\n',
      6,
    );
    expect(outcome(run(site, '[2001:db8::23]:40000', '[2001:db8::9]:81/tcp'))).to.equal('answered at host');
  });

  it('a table that breaks off leaves its chains open', () => {
    const cut = iptablesHost(
      '*filter\n:INPUT ACCEPT [0:0]\n:OUTPUT ACCEPT [0:0]\n-A INPUT -s 192.0.2.1/32 -j DROP\n',
      4,
    );
    expect(outcome(run(cut, '198.51.100.23:40000', '198.51.100.9:80/tcp'))).to.equal('unknown');
  });
});
