import { expect } from 'chai';
import type { NameFact } from '../../facts/index.ts';
import { readText } from '../recognise.ts';

/** Each record as `name type status: answers (server)`. */
const records = (text: string): string[] =>
  (readText(text)?.facts ?? [])
    .filter((f): f is NameFact => f.kind === 'name')
    .map(
      (f) => `${f.name} ${f.type} ${f.status}: ${f.answers.join(', ')}${f.server ? ` (${f.server})` : ''}`,
    );
const services = (text: string): unknown[] =>
  (readText(text)?.facts ?? []).flatMap((f) => (f.kind === 'name' ? (f.services ?? []) : []));

describe('answers about names, in the words of the tools that ask', () => {
  const table: readonly (readonly [string, string, readonly string[]])[] = [
    [
      'dig: an alias and its address',
      '; <<>> DiG 9.18.28 <<>> play.example.net\n' +
        ';; ->>HEADER<<- opcode: QUERY, status: NOERROR, id: 4711\n' +
        ';; flags: qr rd ra; QUERY: 1, ANSWER: 2, AUTHORITY: 0, ADDITIONAL: 1\n' +
        '\n' +
        ';; QUESTION SECTION:\n' +
        ';play.example.net.\t\tIN\tA\n' +
        '\n' +
        ';; ANSWER SECTION:\n' +
        'play.example.net.\t300\tIN\tCNAME\theron.example.net.\n' +
        'heron.example.net.\t300\tIN\tA\t203.0.113.50\n' +
        '\n' +
        ';; SERVER: 192.168.50.1#53(192.168.50.1) (UDP)\n',
      ['play.example.net A NOERROR: 203.0.113.50 (192.168.50.1)'],
    ],
    [
      'dig: the answer alone, as people copy it',
      '; <<>> DiG 9.18.28 <<>> play.example.net\n' +
        ';; ANSWER SECTION:\n' +
        'play.example.net.\t300\tIN\tCNAME\theron.example.net.\n' +
        'heron.example.net.\t300\tIN\tA\t203.0.113.50\n' +
        'heron.example.net.\t300\tIN\tAAAA\t2001:db8::50\n',
      [
        'play.example.net CNAME NOERROR: heron.example.net',
        'heron.example.net A NOERROR: 203.0.113.50',
        'heron.example.net AAAA NOERROR: 2001:db8::50',
      ],
    ],
    [
      'dig: a name that is not there',
      '; <<>> DiG 9.18.28 <<>> plai.example.net\n' +
        ';; ->>HEADER<<- opcode: QUERY, status: NXDOMAIN, id: 1\n' +
        ';; QUESTION SECTION:\n' +
        ';plai.example.net.\t\tIN\tA\n' +
        '\n' +
        ';; SERVER: 9.9.9.9#53(9.9.9.9) (UDP)\n',
      ['plai.example.net A NXDOMAIN:  (9.9.9.9)'],
    ],
    [
      'nslookup: both families',
      'Server:\t\t192.168.50.1\n' +
        'Address:\t192.168.50.1#53\n' +
        '\n' +
        'Non-authoritative answer:\n' +
        'Name:\tplay.example.net\n' +
        'Address: 203.0.113.50\n' +
        'Name:\tplay.example.net\n' +
        'Address: 2001:db8:50::20\n',
      [
        'play.example.net A NOERROR: 203.0.113.50 (192.168.50.1)',
        'play.example.net AAAA NOERROR: 2001:db8:50::20 (192.168.50.1)',
      ],
    ],
    [
      'nslookup of Windows: several addresses below one heading',
      'Server:  gateway.home\n' +
        'Address:  192.168.50.1\n' +
        '\n' +
        'Non-authoritative answer:\n' +
        'Name:    play.example.net\n' +
        'Addresses:  2001:db8:50::20\n' +
        '          203.0.113.50\n' +
        '          203.0.113.51\n',
      [
        'play.example.net A NOERROR: 203.0.113.50, 203.0.113.51 (192.168.50.1)',
        'play.example.net AAAA NOERROR: 2001:db8:50::20 (192.168.50.1)',
      ],
    ],
    [
      'nslookup of a German Windows',
      'Server:  gateway.home\n' +
        'Address:  192.168.50.1\n' +
        '\n' +
        'Nicht autorisierende Antwort:\n' +
        'Name:    play.example.net\n' +
        'Address:  203.0.113.50\n',
      ['play.example.net A NOERROR: 203.0.113.50 (192.168.50.1)'],
    ],
    [
      'nslookup: a name that is not there',
      'Server:\t\t192.168.50.1\nAddress:\t192.168.50.1#53\n\n' +
        "** server can't find plai.example.net: NXDOMAIN\n",
      ['plai.example.net A NXDOMAIN:  (192.168.50.1)'],
    ],
    [
      'nslookup of Windows: a name that is not there',
      'Server:  gateway.home\n' +
        'Address:  192.168.50.1\n' +
        '\n' +
        '*** gateway.home can’t find plai.example.net: Non-existent domain\n',
      ['plai.example.net A NXDOMAIN:  (192.168.50.1)'],
    ],
    [
      'nslookup: an alias',
      'Server:\t\t9.9.9.9\n' +
        'Address:\t9.9.9.9#53\n' +
        '\n' +
        'play.example.net\tcanonical name = heron.example.net.\n' +
        'Name:\theron.example.net\n' +
        'Address: 203.0.113.50\n',
      [
        'play.example.net CNAME NOERROR: heron.example.net (9.9.9.9)',
        'heron.example.net A NOERROR: 203.0.113.50 (9.9.9.9)',
      ],
    ],
    [
      'host: one sentence a record',
      'play.example.net is an alias for heron.example.net.\n' +
        'heron.example.net has address 203.0.113.50\n' +
        'heron.example.net has address 203.0.113.51\n' +
        'heron.example.net has IPv6 address 2001:db8:50::20\n',
      [
        'play.example.net CNAME NOERROR: heron.example.net',
        'heron.example.net A NOERROR: 203.0.113.50, 203.0.113.51',
        'heron.example.net AAAA NOERROR: 2001:db8:50::20',
      ],
    ],
    [
      'host: asked of one server',
      'Using domain server:\n' +
        'Name: 9.9.9.9\n' +
        'Address: 9.9.9.9#53\n' +
        'Aliases: \n' +
        '\n' +
        'play.example.net has address 203.0.113.50\n',
      ['play.example.net A NOERROR: 203.0.113.50 (9.9.9.9)'],
    ],
    ['host: not found', 'Host plai.example.net not found: 3(NXDOMAIN)\n', ['plai.example.net A NXDOMAIN: ']],
    [
      'host: a refused second question does not take the address back',
      'play.example.net has address 203.0.113.50\nHost play.example.net not found: 5(REFUSED)\n',
      ['play.example.net A NOERROR: 203.0.113.50'],
    ],
    [
      'host: no record of that kind',
      'play.example.net has no AAAA record\n',
      ['play.example.net AAAA NOERROR: '],
    ],
  ];
  for (const [title, text, expected] of table) it(title, () => expect(records(text)).to.deep.equal(expected));

  it('a record of a service says priority, weight, port and target (RFC 2782)', () => {
    const service = { priority: 10, weight: 5, port: 8214, target: 'heron.example.net' };
    const dig =
      '; <<>> DiG 9.18.28 <<>> -t SRV _moor._udp.example.net\n' +
      ';; ->>HEADER<<- opcode: QUERY, status: NOERROR, id: 2\n' +
      ';; QUESTION SECTION:\n' +
      ';_moor._udp.example.net.\tIN\tSRV\n' +
      '\n' +
      ';; ANSWER SECTION:\n' +
      '_moor._udp.example.net. 300 IN SRV 10 5 8214 heron.example.net.\n' +
      '\n' +
      ';; SERVER: 9.9.9.9#53(9.9.9.9) (UDP)\n';
    const nslookup =
      'Server:\t\t9.9.9.9\nAddress:\t9.9.9.9#53\n\n' +
      '_moor._udp.example.net\tservice = 10 5 8214 heron.example.net.\n';
    for (const text of [dig, nslookup])
      expect(
        services(text).map((s) => ({
          ...(s as typeof service),
          target: (s as typeof service).target.replace(/\.$/, ''),
        })),
        text,
      ).to.deep.equal([service]);
    expect(records('_moor._udp.example.net has SRV record 10 5 8214 heron.example.net.\n')).to.deep.equal([
      '_moor._udp.example.net SRV NOERROR: 10 5 8214 heron.example.net',
    ]);
  });

  it('a server that does not answer proves nothing about the name', () => {
    for (const text of [
      'Server:\t\t192.168.50.1\nAddress:\t192.168.50.1#53\n\n' +
        ';; connection timed out; no servers could be reached\n',
      '; <<>> DiG 9.18.28 <<>> play.example.net\n' +
        ';; global options: +cmd\n' +
        ';; connection timed out; no servers could be reached\n',
    ]) {
      const reading = readText(text);
      expect(
        reading?.facts.filter((f) => f.kind === 'name' && f.status === 'NXDOMAIN'),
        text,
      ).to.deep.equal([]);
      expect(JSON.stringify(reading), text).to.match(/name-server-silent|no servers could be reached/);
    }
  });
});
