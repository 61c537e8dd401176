import { expect } from 'chai';
import { readText } from '../recognise.ts';

const sockets = (text: string): string[] =>
  (readText(text)?.facts ?? []).flatMap((f) =>
    f.kind === 'socket'
      ? [
          `${f.protocol} ${f.address}:${f.port} ` +
            `${f.state}${f.peer ? ` to ${f.peer}:${f.peerPort}` : ''}` +
            `${f.processes.map((p) => ` ${p.name}/${p.pid}`).join('')}`,
        ]
      : [],
  );

describe('netstat of every system', () => {
  const table: readonly (readonly [string, string, readonly string[]])[] = [
    [
      'Linux, with programs',
      'Active Internet connections (servers and established)\n' +
        'Proto Recv-Q Send-Q Local Address           Foreign Address         State       PID/Program ' +
        'name\n' +
        'tcp        0      0 0.0.0.0:8211            0.0.0.0:*               LISTEN      812/moorhen: ' +
        'main\n' +
        'tcp        0      0 192.168.50.20:8211      198.51.100.23:50123     ESTABLISHED 812/moorhen: ' +
        'main\n' +
        'tcp6       0      0 ::1:5432                :::*                    LISTEN      733/postgres\n' +
        'udp        0      0 0.0.0.0:8214            0.0.0.0:*                           812/moorhen\n' +
        'Active UNIX domain sockets (servers and established)\n' +
        'Proto RefCnt Flags       Type       State         I-Node   PID/Program name     Path\n' +
        'unix  2      [ ACC ]     STREAM     LISTENING     18923    1/init               /run/x\n',
      [
        'tcp 0.0.0.0:8211 LISTEN moorhen/812',
        'tcp 192.168.50.20:8211 ESTAB to 198.51.100.23:50123 moorhen/812',
        'tcp ::1:5432 LISTEN postgres/733',
        'udp 0.0.0.0:8214 UNCONN moorhen/812',
      ],
    ],
    [
      'macOS: address and port joined by a dot, the program with its number',
      'Active Internet connections (including servers)\n' +
        'Proto Recv-Q Send-Q  Local Address          Foreign Address        (state)     rhiwat shiwat ' +
        '   pid   epid  state    options\n' +
        'tcp4       0      0  *.8211                 *.*                    LISTEN      131072 131072 ' +
        '  moorhen:812      0 0x0100 0x00000106\n' +
        'tcp46      0      0  *.8212                 *.*                    LISTEN      131072 131072 ' +
        '  moorhen:812      0 0x0100 0x00000106\n' +
        'tcp4       0      0  192.168.50.20.8211     198.51.100.23.50123    ESTABLISHED 131072 131072 ' +
        '  moorhen:812      0 0x0100 0x00000106\n' +
        'udp4       0      0  *.8214                 *.*                                786896   9216 ' +
        '  moorhen:812      0 0x0100 0x00000106\n',
      [
        'tcp 0.0.0.0:8211 LISTEN moorhen/812',
        'tcp *:8212 LISTEN moorhen/812',
        'tcp 192.168.50.20:8211 ESTAB to 198.51.100.23:50123 moorhen/812',
        'udp 0.0.0.0:8214 UNCONN moorhen/812',
      ],
    ],
    [
      'Windows, in another language: who is at the far end tells the state',
      '\n' +
        'Aktive Verbindungen\n' +
        '\n' +
        '  Proto  Lokale Adresse         Remoteadresse          Status           PID\n' +
        '  TCP    0.0.0.0:8211           0.0.0.0:0              ABHÖREN          4120\n' +
        '  TCP    192.168.50.20:8211     198.51.100.23:50123    HERGESTELLT      4120\n' +
        '  TCP    [::]:8211              [::]:0                 ABHÖREN          4120\n' +
        '  UDP    0.0.0.0:8214           *:*                                     4120\n',
      [
        'tcp 0.0.0.0:8211 LISTEN undefined/4120',
        'tcp 192.168.50.20:8211 ESTAB to 198.51.100.23:50123 undefined/4120',
        'tcp :::8211 LISTEN undefined/4120',
        'udp 0.0.0.0:8214 UNCONN undefined/4120',
      ],
    ],
    [
      'Windows, with the program on a line of its own',
      'Active Connections\n' +
        '\n' +
        '  Proto  Local Address          Foreign Address        State           PID\n' +
        '  TCP    0.0.0.0:8211           0.0.0.0:0              LISTENING       4120\n' +
        ' [moorhen.exe]\n',
      ['tcp 0.0.0.0:8211 LISTEN moorhen.exe/4120'],
    ],
  ];
  for (const [title, text, expected] of table)
    it(title, () =>
      expect(sockets(text).map((s) => s.replace(' undefined/4120', ''))).to.deep.equal(
        expected.map((s) => s.replace(' undefined/4120', '')),
      ),
    );

  it('a row that cannot be a socket is said', () =>
    expect(
      (
        readText(
          'Proto Recv-Q Send-Q Local Address           Foreign Address         State\n' +
            'tcp        0      0 0.0.0.0:99999           0.0.0.0:*               LISTEN\n' +
            'tcp        0      0 0.0.0.0:8211            0.0.0.0:*               LISTEN\n',
        )?.problems ?? []
      ).map((p) => `${p.line} ${String(p.why)}`),
    ).to.deep.equal(['2 socket-unreadable']));

  it('a listing that ends inside a word is not whole', () => {
    const head =
      '  Proto  Local Address          Foreign Address        State           PID\n' +
      '  TCP    0.0.0.0:135            0.0.0.0:0              LISTENING\n';
    const gaps = (text: string): readonly string[] => readText(text)?.gaps ?? [];
    expect(gaps(`${head}  TCP    0.0.0.0:8211           0.0.0.0:0              LISTEN`)).to.include('cut');
    expect(gaps(`${head}  TCP    0.0.0.0:8211           0.0.0.0:0              LISTENING`)).to.not.include(
      'cut',
    );
    expect(gaps(`${head} [moorhen.e`)).to.include('cut');
    expect(gaps(`${head}  TCP    0.0.0.0:8211           0.0.0.0:0`)).to.include('cut');
  });
});
