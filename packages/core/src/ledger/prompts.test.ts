import { expect } from 'chai';
import { assignStop } from './assign.ts';
import { readText } from '../reading/index.ts';
import { caseFacts, placing } from '../testing/index.ts';

const { more, path, stopOf } = placing;

describe('prompts tell machines apart', () => {
  const SOCKETS =
    'Netid State Recv-Q Send-Q Local Address:Port Peer Address:PortProcess\n' +
    'tcp LISTEN 0 16 0.0.0.0:8214 0.0.0.0:* users:(("gullcast",pid=7,fd=3))\n';
  const listed = (host: string, address: string): string =>
    `root@${host}:~# ip addr\n` +
    '2: eth0: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n' +
    `    inet ${address} scope global eth0\n`;

  it('a prompt that another piece has is of its machine', () => {
    const found = stopOf(`root@plover:~# ss -tulpn\n${SOCKETS.replace(':8214', ':53')}`, {
      'gateway/addresses': listed('plover', '203.0.113.50/24'),
    });
    expect(found).to.deep.include({ stop: 'gateway', why: { by: 'prompt', host: 'plover' } });
  });

  it('what is found there speaks against its prompt: it is asked about', () => {
    const piece = `root@plover:~# ss -tulpn\n${SOCKETS}`;
    const found = stopOf(piece, { 'gateway/addresses': listed('plover', '203.0.113.50/24') });
    expect(found).to.include({ stop: 'gateway', sure: false });
    expect(found.candidates.slice(0, 2)).to.deep.equal(['gateway', 'server']);
  });

  it('a piece of another prompt is not of that machine', () => {
    const found = stopOf(`anna@heron:~$ ss -tulpn\n${SOCKETS}`, {
      'server/addresses': listed('plover', '192.168.50.20/24'),
    });
    expect(found.sure).to.equal(false);
  });

  it('its own addresses prove more than a prompt of another name', () => {
    const found = stopOf(listed('renamed', '192.168.50.20/24'), {
      'server/addresses': listed('heron', '192.168.50.20/24'),
    });
    expect(found).to.include({ stop: 'server', sure: true });
  });

  it('a stop that is called like the prompt', () => {
    const named = path.map((s) => (s.id === 'gateway' ? { ...s, name: 'Plover' } : s));
    const facts = caseFacts(named, {}, more);
    const reading = readText(
      'anna@plover:~$ sysctl net.ipv4.conf.all.rp_filter\nnet.ipv4.conf.all.rp_filter = 1\n',
    );
    expect(reading && assignStop(reading, facts)).to.include({ stop: 'gateway', sure: true });
  });

  it('listeners on a public address that nobody is known to have are asked about', () =>
    expect(stopOf(SOCKETS.replace('0.0.0.0:8214', '203.0.113.64:8214')).sure).to.equal(false));

  it('routes are never of the machine that they lead to, and are of the one that they leave from', () => {
    const known = { 'gateway/addresses': listed('plover', '192.168.50.1/24') };
    expect(stopOf('default via 192.168.50.1 dev eno1\n', known)).to.include({ stop: 'server', sure: true });
  });

  it('an inside address that is dialled is the server’s own', () => {
    const inside = { ...more, client: { address: '192.168.50.77', dials: '192.168.50.31' } };
    const reading = readText(
      '2: eth0: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n    inet 192.168.50.31/24 scope global eth0\n',
    );
    expect(reading && assignStop(reading, caseFacts(path, {}, inside))).to.include({
      stop: 'server',
      sure: true,
    });
  });
});
