import { expect } from 'chai';
import { readText } from '../recognise.ts';

/** Rows that would be in force, and the listings that the text would be the whole of. */
const told = (text: string): string[] => {
  const reading = readText(text.replaceAll(' | ', '\t'));
  return [
    ...(reading?.facts ?? []).flatMap((f) =>
      f.kind === 'forward' || f.kind === 'allow-row' ? [f.kind] : [],
    ),
    ...(reading?.covers ?? []),
  ];
};

describe('tables with ports and addresses that neither forward nor let in', () => {
  const table: readonly (readonly [string, string])[] = [
    [
      'connections, with the port of each sender',
      'Protocol | Source | Source port | Destination | Destination port\n' +
        'TCP | 192.168.50.20 | 49700 | 198.51.100.23 | 443\nUDP | 192.168.50.44 | 53022 | 9.9.9.9 | 53\n',
    ],
    [
      'connections, with their states',
      'Protocol | Source | Port | State\nTCP | 198.51.100.23 | 8214 | Established\n',
    ],
    [
      'who is connected',
      'User | Tunnel IP | Remote IP | Port | Since\nmoor | 10.8.0.6 | 198.51.100.23 | 51820 | 17:02\n',
    ],
    [
      'what was dropped',
      'Time | Protocol | Source | Destination | Action\n' +
        '17:02:11 | TCP | 198.51.100.23:51514 | 203.0.113.50:8214 | Dropped\n' +
        '17:02:14 | TCP | 198.51.100.23:51514 | 203.0.113.50:8214 | Dropped\n',
    ],
    [
      'packets without their time',
      'Protocol | Source | Destination\nTCP | 198.51.100.23:51514 | 203.0.113.50:8214\n',
    ],
    ['what inside machines may not use', 'Device | Blocked port | Protocol\n192.168.50.44 | 8214 | TCP\n'],
    ['the same in German', 'Gerät | Gesperrter Port | Protokoll\n192.168.50.44 | 8214 | TCP\n'],
    [
      'what listens on a machine',
      'LISTEN | UNIT | ACTIVATES\n0.0.0.0:8214 | gullcast.socket | gullcast.service\n',
    ],
  ];
  for (const [title, text] of table) it(title, () => expect(told(text)).to.deep.equal([]));

  it('openings for IPv6 are rows, and no word about what is forwarded of IPv4', () =>
    expect(
      told('Name | Protocol | Port | IPv6 address | State\ngull | TCP | 8214 | 2001:db8:50::20 | on\n'),
    ).to.deep.equal(['forward']));

  it('a row among senders that leads on, or is called public, stays in the list', () => {
    const rows = 'tcp 22 from 198.51.100.0/24\ntcp 8214 from 10.0.0.0/8 to 10.1.2.3\n';
    expect(told(rows)).to.deep.equal(['allow-row', 'allow-row', 'allow-list']);
    const open = '[{"protocol":"tcp","port":8214,"source":"0.0.0.0/0","public":true}]\n';
    expect(told(open)).to.deep.equal(['allow-row', 'allow-list']);
  });

  it('a list of senders is one still: with a range of sender ports, or none', () => {
    const head = 'Type | Protocol | Source port | Port range | Source\n';
    expect(told(`${head}Custom | TCP | any | 8214 | 0.0.0.0/0\n`)).to.deep.equal(['allow-row', 'allow-list']);
    expect(told('Type | Protocol | Port range | Source\nCustom | TCP | 8214 | 0.0.0.0/0\n')).to.deep.equal([
      'allow-row',
      'allow-list',
    ]);
  });

  it('a sentence of what somebody wants, or of where something comes from, is no sure row', () => {
    const sure = (text: string) =>
      (readText(text)?.facts ?? []).filter((f) => f.kind === 'forward' && f.narrowed.length === 0);
    expect(sure('Please forward TCP 8214 to 192.168.50.20\n')).to.deep.equal([]);
    expect(sure('addons: tcp 8214 -> 192.168.50.20\n')).to.have.lengthOf(1);
    expect(sure('- TCP 8214 from WAN to 192.168.50.20 (enabled)\n')).to.deep.equal([]);
  });

  it('an export whose rows have a port outside is none of senders', () =>
    expect(told('{"rules":[{"proto":"tcp","ext":8214,"ip":"192.168.50.20","port":8214}]}\n')).to.deep.equal([
      'forward',
      'forwards',
    ]));
});

describe('what limits a row of forwards', () => {
  const HEAD = 'Name | Protocol | External port | Internal IP | Internal port';
  const limits = (heading: string, cell: string): string[] => {
    const text = `${HEAD} | ${heading}\ngull | TCP | 8214 | 192.168.50.20 | 8214 | ${cell}\n`;
    return (readText(text.replaceAll(' | ', '\t'))?.facts ?? []).flatMap((f) =>
      f.kind === 'forward' ? f.narrowed.map((d) => d.doubt) : [],
    );
  };
  it('a day on which it ends: whether that has come, it does not say', () =>
    expect(limits('Expires', '2026-11-20')).to.deep.equal(['narrowed']));
  it('none where it does not end, or is only so old', () => {
    expect(limits('Expires', 'never')).to.deep.equal([]);
    expect(limits('Active since', '2026-11-20')).to.deep.equal([]);
  });
  it('an address without a heading: a sender’s, or the outside one', () => {
    const [row] = readText('gull\tTCP\t8214\t192.168.50.20\t8214\t203.0.113.50\n')?.facts ?? [];
    expect(row).to.deep.include({ kind: 'forward', sources: { is: null } });
    expect(row?.kind === 'forward' && row.narrowed.map((d) => d.doubt)).to.deep.equal(['word']);
  });
});
