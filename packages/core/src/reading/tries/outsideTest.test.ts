import { expect } from 'chai';
import { printed } from '../../facts/index.ts';
import { readText } from '../recognise.ts';

const said = (text: string): string[] => {
  const reading = readText(text);
  expect(reading?.format, text).to.equal('outside-test');
  return reading!.facts.map((f) => {
    const v = printed(f)!.value as {
      port: number;
      protocol: string | null;
      state: string;
      address: string | null;
    };
    return `${v.protocol ?? '?'} ${v.port} ${v.address ?? '?'} ${v.state}`;
  });
};

describe('outside tests of a port', () => {
  const table: readonly (readonly [string, string])[] = [
    ['Port 8214 is closed on 203.0.113.50\n', '? 8214 203.0.113.50 closed'],
    ['203.0.113.50:8214 (tcp): timed out\n', 'tcp 8214 203.0.113.50 filtered'],
    ['TCP port 8214 on 203.0.113.50 is open.\n', 'tcp 8214 203.0.113.50 open'],
    ['Port 8214 is not open\n', '? 8214 ? closed'],
    ['Port: 8214\tnot reachable\n', '? 8214 ? filtered'],
    ['Connection to 203.0.113.50 port 8214: no response\n', '? 8214 203.0.113.50 filtered'],
    ['Der Port 8214 ist geschlossen (203.0.113.50)\n', '? 8214 203.0.113.50 closed'],
    ['Le port 8214 est fermé.\n', '? 8214 ? closed'],
    ['El puerto 28410 udp está abierto\n', 'udp 28410 ? open'],
    ['A porta 8214 está fechada\n', '? 8214 ? closed'],
  ];
  for (const [text, wanted] of table) it(text.trim(), () => expect(said(text)).to.deep.equal([wanted]));

  it('a table of a port scanner, with the address above it', () => {
    expect(
      said(
        'Report for play.example.net (203.0.113.50)\n' +
          'Host is up (0.03s latency).\n' +
          '\n' +
          'PORT      STATE         SERVICE\n' +
          '8214/tcp  filtered      unknown\n' +
          '22/tcp    open          ssh\n' +
          '28410/udp open|filtered unknown\n',
      ),
    ).to.deep.equal([
      'tcp 8214 203.0.113.50 filtered',
      'tcp 22 203.0.113.50 open',
      'udp 28410 203.0.113.50 filtered',
    ]);
  });

  for (const text of [
    'tcp 8214 192.168.50.20 8214\nudp 28410 192.168.50.20 28410\n',
    'WAN IP 203.0.113.50\n',
    'server-port=28410\nopen=true\n',
    'Port 99999 is closed\n',
  ]) {
    it(`is not seen in ${JSON.stringify(text.slice(0, 30))}`, () =>
      expect(readText(text)?.format).to.not.equal('outside-test'));
  }
});
