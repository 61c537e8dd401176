import { expect } from 'chai';
import { readText } from '../recognise.ts';

const HEADING = 'COMMAND     PID     USER   FD   TYPE DEVICE SIZE/OFF NODE NAME\n';

const sockets = (rows: string): string[] => {
  const reading = readText(`${HEADING}${rows}`);
  expect(reading?.format).to.equal('lsof');
  return (reading?.facts ?? []).flatMap((f) =>
    f.kind === 'socket'
      ? [
          `${f.protocol} ${f.family} ${f.address}:${f.port} ` +
            `${f.state}${f.peer ? ` ${f.peer}:${f.peerPort}` : ''}${f.bothFamilies ? ' ?' : ''} ` +
            `${f.processes.map((p) => `${p.name}/${p.pid}/${p.fd}`).join('+')}`,
        ]
      : [],
  );
};

describe('lsof -nP -i', () => {
  it('listeners of both families; a wildcard of IPv6 does not say whether it takes IPv4', () =>
    expect(
      sockets(
        'gullcast   1201 gullcast    7u  IPv4  18345      0t0  TCP *:8214 (LISTEN)\n' +
          'nginx       900     root    6u  IPv6  17000      0t0  TCP *:80 (LISTEN)\n' +
          'postgres    612 postgres    5u  IPv6  15000      0t0  TCP [::1]:5432 (LISTEN)\n',
      ),
    ).to.deep.equal([
      'tcp 4 0.0.0.0:8214 LISTEN gullcast/1201/7',
      'tcp 6 :::80 LISTEN ? nginx/900/6',
      'tcp 6 ::1:5432 LISTEN postgres/612/5',
    ]));

  it('connections, datagrams, and one socket of several processes', () =>
    expect(
      sockets(
        'gullcast   1201 gullcast    9u  IPv4  18346      0t0  TCP ' +
          '192.168.50.20:8214->198.51.100.23:40112 (ESTABLISHED)\n' +
          'tided      1300     tide    4u  IPv4  18347      0t0  UDP *:28410\n' +
          'nginx       900     root    6u  IPv4  17001      0t0  TCP *:443 (LISTEN)\n' +
          'nginx       901 www-data    6u  IPv4  17001      0t0  TCP *:443 (LISTEN)\n' +
          'my\\x20app  1400       me    3u  IPv6  17002      0t0  TCP ' +
          '[2001:db8::20]:22->[2001:db8::9]:40000 (CLOSE_WAIT)\n',
      ),
    ).to.deep.equal([
      'tcp 4 192.168.50.20:8214 ESTAB 198.51.100.23:40112 gullcast/1201/9',
      'udp 4 0.0.0.0:28410 UNCONN tided/1300/4',
      'tcp 4 0.0.0.0:443 LISTEN nginx/900/6+nginx/901/6',
      'tcp 6 2001:db8::20:22 CLOSE_WAIT 2001:db8::9:40000 my app/1400/3',
    ]));

  it('names in place of numbers: of usual ports, and of the machine itself', () => {
    const rows =
      'sshd        612     root    3u  IPv4  12345      0t0  TCP *:ssh (LISTEN)\n' +
      'postgres    613 postgres    5u  IPv6  12346      0t0  TCP localhost:postgresql (LISTEN)\n';
    expect(sockets(rows)).to.deep.equal([
      'tcp 4 0.0.0.0:22 LISTEN sshd/612/3',
      'tcp 6 ::1:5432 LISTEN postgres/613/5',
    ]);
    const other = 'gullcast    614     gull    5u  IPv4  12347      0t0  TCP heron:8214 (LISTEN)\n';
    expect(sockets(other)).to.deep.equal([]);
    expect(readText(`${HEADING}${other}`)?.problems.map((p) => p.line)).to.deep.equal([2]);
  });

  it('files and other sockets are passed over, anything else is said', () => {
    const reading = readText(
      `${HEADING}gullcast   1201 gullcast    7u  IPv4  18345      0t0  TCP *:8214 (LISTEN)\n` +
        'gullcast   1201 gullcast  cwd    DIR    8,1     4096    2 /\n' +
        'not a row at all\n',
    );
    expect(reading?.problems.map((p) => p.line)).to.deep.equal([4]);
    expect(reading?.covers).to.deep.equal([]);
  });
});
