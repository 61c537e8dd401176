import { expect } from 'chai';
import { readText } from '../recognise.ts';

const facts = (text: string): string[] =>
  (readText(text)?.facts ?? []).flatMap((f) => {
    if (f.kind === 'announced')
      return [`to ${f.value.address ?? 'the same'}:${f.value.port ?? '-'} (${f.value.key ?? 'said'})`];
    if (f.kind === 'data-ports') return [`data ${f.value.first}-${f.value.last}`];
    if (f.kind === 'program-port') return [`port ${f.value}`];
    if (f.kind === 'program-bind') return [`bind ${f.value.toString()}`];
    return f.kind === 'outcome' ? [f.value] : [];
  });

describe('file transfer and streaming: where the next connection goes', () => {
  const table: readonly (readonly [string, string, readonly string[]])[] = [
    [
      'a dialogue, as the server writes it (RFC 959)',
      '220 Welcome.\n230 Login successful.\n227 Entering Passive Mode (192,168,50,20,156,66).\n',
      ['server answers: Welcome.', 'to 192.168.50.20:40002 (said)'],
    ],
    [
      'behind the marks of a client, without brackets',
      '< 220 ready\n> PASV\n< 227 Entering Passive Mode 192,168,50,20,156,64\n',
      ['server answers: ready', 'to 192.168.50.20:40000 (said)'],
    ],
    [
      'with names and times before it',
      'Status: Connected\nResponse: 220 ready\nResponse: 227 Entering Passive Mode (192,168,50,20,156,66)\n',
      ['server answers: ready', 'to 192.168.50.20:40002 (said)'],
    ],
    [
      'the extended form names a port alone (RFC 2428)',
      '230 ok\n229 Entering Extended Passive Mode (|||40002|)\n',
      ['server answers: ok', 'to the same:40002 (said)'],
    ],
    [
      'a stream: its transport (RFC 2326)',
      'RTSP/1.0 200 OK\n' +
        'CSeq: 3\n' +
        'Transport: RTP/AVP;unicast;client_port=4588-4589;server_port=6970-6971;source=192.168.50.20\n',
      ['to 192.168.50.20:6970 (said)'],
    ],
    [
      'a call: its connection line (RFC 8866)',
      'SIP/2.0 200 OK\n' +
        'Content-Type: application/sdp\n' +
        '\n' +
        'v=0\n' +
        'o=- 1 1 IN IP4 192.168.50.20\n' +
        'c=IN IP4 192.168.50.20\n' +
        'm=audio 40000 RTP/AVP 0\n',
      ['to 192.168.50.20:- (said)'],
    ],
    [
      'settings as key=value, by grep with line numbers',
      '3:listen_port=2121\n12:pasv_min_port=40000\n13:pasv_max_port=40010\n14:pasv_address=203.0.113.50\n',
      ['port 2121', 'to 203.0.113.50:- (pasv_address)', 'data 40000-40010'],
    ],
    [
      'settings as words',
      'ServerName "moor"\n' +
        'Port 21\n' +
        '# MasqueradeAddress 203.0.113.99\n' +
        'MasqueradeAddress 192.168.50.20\n' +
        'PassivePorts 40000 40010\n',
      ['port 21', 'to 192.168.50.20:- (MasqueradeAddress)', 'data 40000-40010'],
    ],
  ];
  for (const [title, text, expected] of table) it(title, () => expect(facts(text)).to.deep.equal(expected));

  it('a description of a session that nobody answered may be the client’s own', () =>
    expect(
      facts('v=0\no=- 1 1 IN IP4 192.168.1.7\nc=IN IP4 192.168.1.7\nm=audio 40000 RTP/AVP 0\n'),
    ).to.deep.equal([]));

  it('settings that are switched off announce nothing', () =>
    expect(
      facts('listen_port=21\npasv_enable=NO\npasv_address=192.168.50.20\npasv_min_port=1\npasv_max_port=2\n'),
    ).to.deep.equal(['port 21']));

  it('numbers that are no address, and half a range, announce nothing', () => {
    expect(facts('220 ok\n227 Entering Passive Mode (192,168,50,999,156,66).\n')).to.not.include.members([
      'to 192.168.50.999:40002 (said)',
    ]);
    expect(facts('listen_port=21\npasv_min_port=40000\npasv_enable=YES\n')).to.deep.equal(['port 21']);
  });
});
