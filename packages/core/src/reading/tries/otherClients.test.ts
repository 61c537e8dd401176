import { expect } from 'chai';
import { readText } from '../recognise.ts';

/** `outcome endpoint`, as far as a text says them. */
const said = (text: string): string => {
  const reading = readText(text);
  expect(reading?.format, text).to.equal('connection-try');
  const outcome = reading?.facts.flatMap((f) => (f.kind === 'outcome' ? [f.value] : []))[0];
  const to = reading?.facts.flatMap((f) => (f.kind === 'noted' && f.topic === 'to' ? [f.value] : []))[0];
  return [outcome, to].filter((v) => v !== undefined).join(' ');
};

describe('tries of shells, downloaders, TLS clients and browsers', () => {
  const table: readonly (readonly [string, string, string])[] = [
    [
      'a shell, nobody answers',
      'ssh: connect to host 203.0.113.50 port 22: Connection timed out',
      'timeout 203.0.113.50:22',
    ],
    [
      'a shell, refused',
      'ssh: connect to host 2001:db8::50 port 22: Connection refused',
      'refused [2001:db8::50]:22',
    ],
    [
      'a shell that is turned away was answered',
      'moor@203.0.113.50: Permission denied (publickey,password).',
      'server answers: Permission denied (publickey,password).',
    ],
    [
      'a downloader, connected, whatever the page says',
      'Connecting to radio.example.net (radio.example.net)|203.0.113.50|:8214... connected.\n' +
        'HTTP request sent, awaiting response... 502 Bad Gateway',
      'answered 203.0.113.50:8214',
    ],
    [
      'a downloader, refused',
      'Connecting to 203.0.113.50:8214... failed: Connection refused.',
      'refused 203.0.113.50:8214',
    ],
    [
      'a small downloader',
      "wget: can't connect to remote host (203.0.113.50): Connection timed out",
      'timeout 203.0.113.50',
    ],
    [
      'a TLS client, connected',
      'CONNECTED(00000003)\ndepth=2 C = XX, O = Made Up\nverify return:1',
      'answered',
    ],
    ['a TLS client, not connected', 'connect:errno=111', 'refused'],
    ['a browser, its code', 'ERR_CONNECTION_REFUSED', 'refused'],
    ['a browser, its sentence', 'radio.example.net took too long to respond.', 'timeout'],
    ['a browser, no such name', 'DNS_PROBE_FINISHED_NXDOMAIN', 'name not resolved'],
    ['a browser that was reset does not know by whom', 'ERR_CONNECTION_RESET', 'reset'],
  ];
  for (const [title, text, expected] of table) it(title, () => expect(said(`${text}\n`)).to.equal(expected));

  it('a code among other words is no try', () =>
    expect(readText('see ERR_CONNECTION_REFUSED in the manual for what to do\n')?.format).to.not.equal(
      'connection-try',
    ));
});
