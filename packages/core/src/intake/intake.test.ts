import { expect } from 'chai';
import { checkDialled, parseDialled } from './dialled.ts';
import { readComplaint } from './line.ts';
import { caseFromIntake } from './newCase.ts';

describe('one line of complaint', () => {
  it('gives up service, endpoints, name, sender and symptom', () => {
    const found = readComplaint(
      'lantern reef, udp 28410 and tcp 28410, play.gannet.example.net from 198.51.100.23, times out',
    );
    expect(found).to.deep.include({
      service: 'Lantern Reef',
      dials: 'play.gannet.example.net',
      client: '198.51.100.23',
      symptom: 'lost',
      missing: [],
    });
    expect(found.endpoints).to.deep.equal([
      { protocol: 'udp', port: 28410 },
      { protocol: 'tcp', port: 28410 },
    ]);
  });

  const lines: readonly (readonly [string, Partial<ReturnType<typeof readComplaint>>])[] = [
    [
      'tcp 8211, play.example.net from 198.51.100.23, times out',
      {
        service: null,
        dials: 'play.example.net',
        endpoints: [{ protocol: 'tcp', port: 8211 }],
        symptom: 'lost',
      },
    ],
    [
      'ebbtide 5432/tcp tide.example.net:5432 from 198.51.100.23 connection refused',
      {
        service: 'Ebbtide',
        dials: 'tide.example.net:5432',
        endpoints: [{ protocol: 'tcp', port: 5432 }],
        symptom: 'refused',
      },
    ],
    [
      'tcp/udp 28410-28415 game 203.0.113.9',
      {
        dials: '203.0.113.9',
        endpoints: [
          { protocol: 'tcp', port: 28410, portEnd: 28415 },
          { protocol: 'udp', port: 28410, portEnd: 28415 },
        ],
        missing: ['client'],
      },
    ],
    [
      'gullcast, tcp 8214, 203.0.113.50:8214 from 198.51.100.23, times out',
      { dials: '203.0.113.50:8214', endpoints: [{ protocol: 'tcp', port: 8214 }], client: '198.51.100.23' },
    ],
    ['udp 28410 and 203.0.113.50', { dials: '203.0.113.50', endpoints: [{ protocol: 'udp', port: 28410 }] }],
    ['203.0.113.50 tcp 8214', { dials: '203.0.113.50', endpoints: [{ protocol: 'tcp', port: 8214 }] }],
    ['tcp 203.0.113.50:8214', { dials: '203.0.113.50:8214', endpoints: [{ protocol: 'tcp', port: 8214 }] }],
    [
      'my friends cannot join since Tuesday',
      { dials: null, endpoints: [], missing: ['endpoint', 'dials', 'client'] },
    ],
    [
      'udp ports 28410, 28412 radio.example.org, unknown host',
      {
        endpoints: [
          { protocol: 'udp', port: 28410 },
          { protocol: 'udp', port: 28412 },
        ],
        symptom: 'name-unknown',
      },
    ],
    [
      'play.example.net:8211 from 2001:db8:7::23 only works sometimes',
      {
        client: '2001:db8:7::23',
        endpoints: [{ protocol: 'tcp', port: 8211, guessed: true }],
        symptom: 'sometimes',
      },
    ],
    [
      'recorder 8100/tcp 8101/udp',
      {
        service: 'Recorder',
        endpoints: [
          { protocol: 'tcp', port: 8100 },
          { protocol: 'udp', port: 8101 },
        ],
      },
    ],
    [
      'SSH to box.example.net port 22',
      { service: 'SSH', dials: 'box.example.net', endpoints: [{ protocol: 'tcp', port: 22 }] },
    ],
    ['ftp 21 hangs', { endpoints: [{ protocol: 'tcp', port: 21 }], symptom: 'lost' }],
    [
      'gullcast stream on 8214',
      { service: 'Gullcast Stream', endpoints: [{ protocol: 'tcp', port: 8214, guessed: true }] },
    ],
    ['they type reef.example.net:28410', { service: null, dials: 'reef.example.net:28410' }],
    [
      'tcp 8214 203.0.113.50 from 198.51.100.23 and from 192.0.2.7, 192.0.2.9',
      { client: '198.51.100.23', others: ['192.0.2.7', '192.0.2.9'], dials: '203.0.113.50' },
    ],
    [
      'moor 8211 worked ten minutes then times out',
      { endpoints: [{ protocol: 'tcp', port: 8211, guessed: true }], symptom: 'connects-then-fails' },
    ],
    [
      'http://cam.example.net:8080/',
      { endpoints: [{ protocol: 'tcp', port: 8080 }], dials: 'http://cam.example.net:8080/' },
    ],
    [
      'moorhen 28410 times out, the page over http works',
      { endpoints: [{ protocol: 'tcp', port: 28410, guessed: true }] },
    ],
    ['does not work since the update on 24 November, Windows 11', { endpoints: [] }],
    ['nothing happens since 20 minutes, for 15 players', { endpoints: [] }],
  ];
  for (const [line, expected] of lines) it(line, () => expect(readComplaint(line)).to.deep.include(expected));

  it('opens a case that asks for nothing that is not needed', () => {
    const document = caseFromIntake(readComplaint('tcp 8211, play.example.net'), '2026-03-01T14:00:00Z');
    expect(document.path.map((s) => s.role)).to.deep.equal(['client', 'carrier', 'gateway', 'host']);
    expect(document.client).to.deep.include({ dials: 'play.example.net' });
    expect(document.client).to.not.have.property('address');
  });
});

describe('dialled text', () => {
  const service = [{ protocol: 'tcp' as const, port: 8214 }];
  const kinds = (text: string): string[] => checkDialled(text, service).map((p) => p.kind);
  it('is caught and explained where it is wrong', () => {
    expect(kinds('radio.example.net:8214')).to.deep.equal([]);
    expect(kinds('radio.example.net;8214')).to.deep.equal(['separator']);
    expect(kinds('http://radio.example.net:8214')).to.deep.equal(['scheme']);
    expect(kinds('radio.example.net: 8214')).to.deep.equal(['space']);
    expect(kinds('192.168.50.20:8214')).to.deep.equal(['inside-address']);
    expect(kinds('100.72.14.9:8214')).to.deep.equal(['inside-address']);
    expect(kinds('radio.example.net')).to.deep.equal(['port-missing']);
    expect(kinds('radio.example.net:8241')).to.deep.equal(['port-other']);
    expect(kinds('radio.example.net:88214')).to.deep.equal(['port-invalid']);
    expect(kinds('what is this?')).to.deep.equal(['unreadable']);
  });

  it('is taken apart all the same, and the correction is clear', () => {
    expect(checkDialled('http://radio.example.net;8214/', service)[0]!.corrected).to.equal(
      'radio.example.net:8214',
    );
    expect(parseDialled('[2001:db8::20]:8214')).to.deep.equal({ host: '2001:db8::20', port: 8214 });
    expect(parseDialled('2001:db8::20')).to.deep.equal({ host: '2001:db8::20', port: null });
    expect(parseDialled('RADIO.example.net.')).to.deep.equal({ host: 'radio.example.net', port: null });
  });
});

describe('sentences give no names of services', () => {
  for (const [line, service] of [
    ['strangers get on, tcp 3389, 203.0.113.50', null],
    ['Lantern Reef players, udp 28410, 203.0.113.50', 'Lantern Reef'],
    ['the recorder cannot be watched, tcp 8100', 'Recorder'],
    ['nothing works since yesterday, tcp 80', null],
  ] as const)
    it(line, () => expect(readComplaint(line).service).to.equal(service));
});

describe('the way that a line suggests', () => {
  const way = (line: string): string =>
    caseFromIntake(readComplaint(line), '2026-11-24T17:00:00Z')
      .path.map((s) => s.role)
      .join(' ');
  const table: readonly (readonly [string, string])[] = [
    ['gullcast, tcp 8214, 203.0.113.50 from 198.51.100.23', 'client carrier gateway host'],
    ['database on a rented server, tcp 5432, 203.0.113.60', 'client carrier edge host'],
    ['camera club, two routers in a row, tcp 8080', 'client carrier gateway gateway host'],
    ['islander, over a relay, udp 22222', 'client carrier relay gateway host'],
  ];
  for (const [line, roles] of table) it(line, () => expect(way(line)).to.equal(roles));
});
