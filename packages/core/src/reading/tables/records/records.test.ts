import { expect } from 'chai';
import { rowsOf } from '../../../testing/index.ts';
import { readText } from '../../index.ts';

const RADIO = 'Protocol: TCP\nExternal port: 8214\nInternal IP: 192.168.50.20\nInternal port: 8214\n';
const PLAY = 'Protocol: UDP\nExternal port: 28410\nInternal IP: 192.168.50.20\nInternal port: 28410\n';
const RADIO_ROW = 'tcp 8214 to 192.168.50.20:8214';
const PLAY_ROW = 'udp 28410 to 192.168.50.20:28410';

describe('forwards as records: a field a line, as small screens show them', () => {
  const table: readonly (readonly [string, string, readonly string[]])[] = [
    ['one', `Name: radio\n${RADIO}`, [`radio: ${RADIO_ROW}`]],
    [
      'several, parted by blank lines',
      `Name: radio\n${RADIO}Enabled: Yes\n\nName: play\n${PLAY}Enabled: No\n`,
      [`radio: ${RADIO_ROW}`, `play: ${PLAY_ROW} off`],
    ],
    ['several, by the first field once more', `${RADIO}${PLAY}`, [RADIO_ROW, PLAY_ROW]],
    ['several, below their numbers', `Rule 1\n${RADIO}Rule 2\n${PLAY}`, [RADIO_ROW, PLAY_ROW]],
    ['with tabs', `Rule\tradio\n${RADIO.replaceAll(': ', '\t')}`, [`radio: ${RADIO_ROW}`]],
    [
      'below their names',
      `Harbour radio\n${RADIO}\nPlay\n${PLAY}`,
      [`Harbour radio: ${RADIO_ROW}`, `Play: ${PLAY_ROW}`],
    ],
    ['a state behind the name', `radio (off)\n${RADIO}`, [`radio (off): ${RADIO_ROW} on?`]],
    [
      'a field that one lacks is open there',
      `${RADIO}Enabled: Yes\n\n${PLAY}`,
      [RADIO_ROW, `${PLAY_ROW} on?`],
    ],
    ['a field that limits it', `${RADIO}Schedule: nights\n`, [`${RADIO_ROW} limited`]],
    [
      'a title that says a state beside a name',
      `Disabled rules\nName: radio\n${RADIO}`,
      [`radio: ${RADIO_ROW} limited`],
    ],
    [
      'names and values on lines of their own',
      'Name\nradio\nProtocol\nTCP\nExternal port\n8214\nInternal IP\n192.168.50.20\n' +
        'Internal port\n80\nEnabled\nNo\n',
      ['radio: tcp 8214 to 192.168.50.20:80 off'],
    ],
    ['cut inside a number', RADIO.slice(0, -3), ['tcp ? to ?:? on?']],
  ];
  for (const [title, text, expected] of table) it(title, () => expect(rowsOf(text)).to.deep.equal(expected));

  it('each fact stands where its address does', () => {
    const places = (readText(`${RADIO}\n${PLAY}`)?.facts ?? []).map((f) => f.at);
    expect(places).to.deep.equal([
      { line: 3, column: 13, endColumn: 26 },
      { line: 8, column: 13, endColumn: 26 },
    ]);
  });

  it('what is of no row comes back as a problem', () => {
    const read = readText(`My forwards\n\n${RADIO}\nLast change: Monday\n`);
    expect(read?.problems.map((p) => p.line)).to.deep.equal([1, 8]);
  });
});

describe('forwards in a device’s export', () => {
  const table: readonly (readonly [string, string, readonly string[]])[] = [
    [
      'JSON, a list',
      '[{"name":"radio","proto":"tcp","ext_port":8214,' +
        '"int_ip":"192.168.50.20","int_port":80,"enabled":false}]',
      ['radio: tcp 8214 to 192.168.50.20:80 off'],
    ],
    [
      'JSON on one line that does not end: it is whole all the same',
      '[{"proto":"tcp","ext_port":8080,"int_ip":"192.168.50.20","int_port":80}]',
      ['tcp 8080 to 192.168.50.20:80'],
    ],
    [
      'JSON, under a key, with an object inside',
      JSON.stringify(
        {
          version: 3,
          forwards: [
            {
              description: 'radio',
              protocol: 'tcp_udp',
              externalPort: '8214',
              internal: { ip: '192.168.50.20', port: '8214' },
              enabled: true,
            },
          ],
        },
        null,
        2,
      ),
      ['radio: both 8214 to 192.168.50.20:8214'],
    ],
    [
      'XML',
      '<?xml version="1.0"?>\n<maps>\n' +
        ' <map><enabled>0</enabled><protocol>tcp</protocol><extport>8214</extport>' +
        '<intip>192.168.50.20</intip><intport>80</intport></map>\n</maps>\n',
      ['tcp 8214 to 192.168.50.20:80 off'],
    ],
  ];
  for (const [title, text, expected] of table) it(title, () => expect(rowsOf(text)).to.deep.equal(expected));

  it('each fact stands where its address does', () => {
    const text = '[\n {"proto":"tcp","extPort":8214,\n  "intIp":"192.168.50.20","intPort":8214}\n]\n';
    const [fact] = readText(text)?.facts ?? [];
    expect(fact?.at).to.deep.equal({ line: 3, column: 11, endColumn: 24 });
  });

  it('an export that breaks off is none', () => {
    const map = '<map><protocol>tcp</protocol><extport>8214</extport><intip>192.168.50.20</intip></map>';
    expect(rowsOf(`<maps>${map}</maps>`)).to.deep.equal(['tcp 8214 to 192.168.50.20:?']);
    expect(rowsOf(`<maps>${map}`)).to.deep.equal([]);
    expect(rowsOf('[{"proto":"tcp","ext_port":8214,"int_ip":"192.168.50.20"},')).to.deep.equal([]);
  });

  it('a list of who is let in stays one', () => {
    const list = '[{"protocol":"tcp","ports":"5432","source":"198.51.100.0/24"}]';
    expect(readText(list)?.format).to.equal('allow-list');
    const named =
      '[{"direction":"in","protocol":"tcp","destinationPort":"8214","sourceAddress":"198.51.100.0/24",' +
      '"destinationAddress":"10.0.0.4","access":"Allow"}]';
    expect(readText(named)?.format).to.equal('allow-list');
  });
});

describe('forwards as lines with an arrow', () => {
  const table: readonly (readonly [string, readonly string[]])[] = [
    ['radio: tcp 8214 -> 192.168.50.20:8214', [`radio: ${RADIO_ROW}`]],
    ['203.0.113.50:8214/tcp => 192.168.50.20:8214', [RADIO_ROW]],
    ['8214 → 192.168.50.20', ['? 8214 to 192.168.50.20:8214']],
    ['8214-8216 udp → 192.168.50.20', ['udp 8214-8216 to 192.168.50.20:8214-8216']],
    ['- play UDP 28410 --> 192.168.50.20:28411', ['play: udp 28410 to 192.168.50.20:28411']],
    ['radio  TCP  8214  →  192.168.50.20:8214', [`radio: ${RADIO_ROW}`]],
    ['port 8214 is forwarded to 192.168.50.20', ['? 8214 to 192.168.50.20:8214']],
    ['Forward tcp 8214 to 192.168.50.20.', [RADIO_ROW]],
    ['tcp 8214 goes to 192.168.50.20:8214', [RADIO_ROW]],
    ['8214 is not forwarded to 192.168.50.20', []],
    ['8214 should be forwarded to 192.168.50.20', []],
    ['8214 to 8219', []],
    // Two ends with other ports may be those of a connection.
    ['198.51.100.23:40000 -> 192.168.50.20:8214', []],
    ['192.168.50.31:8214 -> 192.168.50.20:8214', []],
    ['rdr pass on wan proto tcp to port 8214 -> 192.168.50.20 port 8214', []],
    ['0.0.0.0:8214->8214/tcp', []],
    ['tcp 8214 -> 203.0.113.9:8214', ['tcp 8214 to 203.0.113.9:8214 limited']],
    ['Nov 25 10:00:00 gw fw: 198.51.100.23:8214 -> 192.168.50.20:8214 tcp', []],
  ];
  for (const [text, expected] of table) it(text, () => expect(rowsOf(`${text}\n`)).to.deep.equal(expected));

  it('a word among them may say that they are off', () => {
    expect(rowsOf('Forwards\n8214 → 192.168.50.20\n')).to.have.length(1);
    expect(rowsOf('All disabled now\n8214 → 192.168.50.20\n')).to.deep.equal([]);
  });

  it('a few lines are no whole table', () => {
    expect(readText('8214 → 192.168.50.20\n')?.gaps).to.deep.equal(['no-heading']);
  });
});

describe('what stands apart from its row may switch it off', () => {
  const map = '<m><proto>tcp</proto><extport>8214</extport><intip>192.168.50.20</intip></m>';
  const row = '{"proto":"tcp","ext_port":8214,"int_ip":"192.168.50.20","int_port":8214}';
  const table: readonly (readonly [string, string])[] = [
    ['a state behind a blank line', `${RADIO}\nEnabled: No\n`],
    ['a state as a line of its own', `${RADIO}Disabled\n`],
    ['a state above it', `Disabled\n${RADIO}`],
    ['a schedule behind a blank line', `${RADIO}\nSchedule: nights\n`],
    ['a switch beside a list', `{"enabled":false,"forwards":[${row}]}`],
    ['a switch in an object beside a list', `{"nat":{"state":"off"},"forwards":[${row}]}`],
    ['the name of a list', `{"disabled":[${row}]}`],
    ['a switch around elements', `<fw><enabled>0</enabled>${map}</fw>`],
  ];
  for (const [title, text] of table) it(title, () => expect(rowsOf(text)).to.deep.equal([]));

  it('a title of several words leaves its row open', () => {
    expect(rowsOf(`Disabled for now\n${RADIO}`)).to.deep.equal([`${RADIO_ROW} limited`]);
  });

  it('what is on beside a list changes nothing', () => {
    expect(rowsOf(`{"enabled":true,"version":3,"forwards":[${row}]}`)).to.deep.equal([RADIO_ROW]);
    expect(rowsOf(`<fw><enabled>1</enabled>${map}</fw>`)).to.deep.equal(['tcp 8214 to 192.168.50.20:?']);
  });
});

describe('pages that hold ports and addresses of other things', () => {
  const table: readonly (readonly [string, string])[] = [
    ['settings', 'WAN IP: 203.0.113.50\nLAN IP: 192.168.50.1\nRemote management port: 8443\nProtocol: TCP\n'],
    ['traffic', `Traffic\n${RADIO}Packets: 17\n`],
    [
      'one connection',
      'Protocol: TCP\nInside address: 192.168.50.20\nInside port: 8214\nOutside address: 198.51.100.23\n' +
        'Outside port: 40112\nState: ESTABLISHED\n',
    ],
  ];
  for (const [title, text] of table)
    it(`${title}: no forwards`, () => expect(rowsOf(text)).to.deep.equal([]));

  it('the ends of a connection are no addresses of the device that shows it', () => {
    const [, , [, text = ''] = []] = table;
    const told = (readText(text)?.facts ?? []).flatMap((f) => (f.kind === 'labelled' ? [f.what] : []));
    expect(told).to.not.include.members(['wan-address']);
    expect(told).to.not.include.members(['lan-address']);
  });
});
