import { expect } from 'chai';
import { posixCollector } from '@bright-ferry/core/asks';
import { readText } from '@bright-ferry/core/reading';
import { Network } from './src/namespaces.ts';

describe('the collect script, run on a machine', () => {
  it('prints one paste in which every output is recognised, with what was set up', async () => {
    const network = new Network('collect');
    try {
      for (const name of ['gateway', 'server']) network.machine(name);
      network.cable(
        { machine: 'server', device: 'eno1', addresses: ['192.168.50.20/24', '2001:db8:50::20/64'] },
        { machine: 'gateway', device: 'lan0', addresses: ['192.168.50.1/24'] },
      );
      network.run('server', 'ip route add default via 192.168.50.1');
      network.run(
        'server',
        'nft -f -',
        'table inet guard {\n' +
          ' chain input {\n' +
          '  type filter hook input priority filter; policy drop;\n' +
          '  ct state established,related accept\n' +
          '  tcp dport 8214 accept\n' +
          ' }\n' +
          '}\n',
      );
      const child = network.start('server', [
        'python3',
        '-c',
        'import socket,time\ns=socket.create_server(("0.0.0.0",8214))\n' +
          'print("up",flush=True)\ntime.sleep(30)',
      ]);
      await new Promise<void>((resolve) => child.stdout!.once('data', () => resolve()));
      const before = network.run('server', 'ip addr; ip route; nft list ruleset; sysctl net.ipv4.ip_forward');
      const paste = network.run('server', 'sh -s', posixCollector());
      expect(
        network.run('server', 'ip addr; ip route; nft list ruleset; sysctl net.ipv4.ip_forward'),
        'it must change nothing',
      ).to.equal(before);

      const reading = readText(paste)!;
      expect(
        reading.facts
          .filter((f) => f.kind === 'address')
          .map((f) => f.kind === 'address' && `${f.address}/${f.prefix}`),
      ).to.include.members(['192.168.50.20/24', '2001:db8:50::20/64']);
      expect(
        reading.facts.some(
          (f) => f.kind === 'route' && f.to === 'default' && f.hops[0]!.via === '192.168.50.1',
        ),
      ).to.equal(true);
      expect(
        reading.facts
          .filter((f) => f.kind === 'socket')
          .map((f) => f.kind === 'socket' && `${f.protocol} ${f.address}:${f.port}`),
      ).to.include('tcp 0.0.0.0:8214');
      expect(reading.facts.some((f) => f.kind === 'setting' && f.key === 'net.ipv4.ip_forward')).to.equal(
        true,
      );
      expect(
        reading.facts.some(
          (f) => f.kind === 'nft' && f.objects.some((o) => o.is === 'rule' && /dport 8214/.test(o.text)),
        ),
      ).to.equal(true);
      expect(reading.covers).to.include.members([
        'addresses',
        'routes4',
        'routes6',
        'policy4',
        'sockets-tcp',
        'sockets-udp',
        'rules4',
        'rules6',
      ]);
    } finally {
      network.close();
    }
  });
});
