import type { Fact, Problem } from '../../facts/index.ts';
import { parseAddress } from '../../net/index.ts';
import { nth } from '../../place/index.ts';
import { lineAt, once, problemAt, told, written } from '../noted.ts';
import type { Reader } from '../reader.ts';
import type { Line } from '../text.ts';

/** A setting as `key=value`, as `Key value`, or printed by grep with its line number before it. */
const PAIR = /^(?:\d+[:-])?\s*([A-Za-z][A-Za-z_]{2,30})(?:[ \t]*=[ \t]*|[ \t]+)(\S.*)$/;
/** Keys of the file transfer daemons that Debian ships. */
const OWN_KEY = new RegExp(
  String.raw`^(?:pasv_(?:address|min_port|max_port|enable)|passiveports|passiveportrange|` +
    String.raw`forcepassiveip|masqueradeaddress)$`,
);

/** Where a file transfer daemon sends its clients next: its configuration, whole or by grep. */
export const transferConfig: Reader = {
  format: 'transfer-config',
  title: 'the settings of a file transfer program',
  recognise: (text) => (written(text.slice(0, 50_000)).some((l) => OWN_KEY.test(keyOf(l))) ? 0.93 : 0),
  read(text) {
    const facts: Fact[] = [];
    let first: number | null = null;
    let last: number | null = null;
    let at: Line | null = null;
    let isUsed = true;
    for (const line of written(text)) {
      const pair = PAIR.exec(line.text);
      if (!pair || /^\s*[#;]/.test(line.text)) continue;
      const [key, value] = [nth(pair, 1).toLowerCase(), nth(pair, 2).trimEnd()];
      const [low, high] = (value.match(/\d+/g) ?? []).map(Number);
      switch (key) {
        case 'pasv_enable':
          isUsed = !/^no$/i.test(value);
          break;
        case 'pasv_min_port':
          first = low ?? null;
          at ??= line;
          break;
        case 'pasv_max_port':
          last = low ?? null;
          at ??= line;
          break;
        case 'passiveports':
        case 'passiveportrange':
          first = low ?? null;
          last = high ?? null;
          at = line;
          break;
        case 'pasv_address':
        case 'masqueradeaddress':
        case 'forcepassiveip':
          facts.push(
            told(
              'announced',
              lineAt(line),
              { address: value, port: null, key: nth(pair, 1) },
              line.text.trim(),
            ),
          );
          break;
        case 'listen_port':
        case 'port':
          if (low !== undefined) facts.push(told('program-port', lineAt(line), low));
          break;
        case 'bind':
        case 'listen_address':
        case 'defaultaddress':
          facts.push(told('program-bind', lineAt(line), value.split(',', 1).join('')));
          break;
        default:
      }
    }
    // Where it never names a port to its clients, what it would name plays no part.
    if (!isUsed)
      return {
        format: 'transfer-config',
        facts: facts.filter((f) => f.kind !== 'announced'),
        problems: [],
        covers: [],
      };
    if (at && first !== null && last !== null && first > 0 && last >= first)
      facts.push(told('data-ports', lineAt(at), { first, last }, `${first}-${last}`));
    return { format: 'transfer-config', facts, problems: [], covers: [] };
  },
};

const keyOf = ({ text }: Line): string => (PAIR.exec(text)?.[1] ?? '').toLowerCase();

/** A reply of a server: three digits and its text (RFC 959 §4.2), behind what a client puts before it. */
const REPLY = new RegExp(
  String.raw`^(?:[<>*-]{1,3}\s*|(?:\[[^\]]{1,40}\]|[A-Z][a-z]{2,12}:|\d\d:\d\d:\d\d(?:\.\d+)?)\s+` +
    String.raw`){0,3}([1-5]\d\d)([ -])(.*)$`,
);
/** `227 … (h1,h2,h3,h4,p1,p2)` (RFC 959 §4.1.2); `229 … (|||port|)` (RFC 2428 §3). */
const PASSIVE = /\(?(\d{1,3}),(\d{1,3}),(\d{1,3}),(\d{1,3}),(\d{1,3}),(\d{1,3})\)?/;
const EXTENDED = /\(\|\|\|(\d{1,5})\|\)/;
/** `c=IN IP4 192.168.50.20` (RFC 8866 §5.7), `Transport: …;source=…;server_port=…` (RFC 2326 §12.39). */
const MEDIA_ADDRESS = /^c=IN IP[46] ([0-9A-Fa-f.:]+)/;
const TRANSPORT = /^Transport:\s*RTP\//i;

/**
 * What a server answered a client, line by line, where it names the address and port of the next connection:
 * file transfer and streaming.
 */
export const serverDialogue: Reader = {
  format: 'server-dialogue',
  title: 'what the server answered, line by line',
  recognise(text) {
    const start = text.slice(0, 20_000);
    const isServers = isAnswer(start);
    return written(start).some((l) => announcedIn(l, isServers) !== null) ? 0.94 : 0;
  },
  read(text) {
    const facts: Fact[] = [];
    const problems: Problem[] = [];
    const lines = written(text);
    const greeting = lines.find((l) => /^2[23]\d/.test(REPLY.exec(l.text)?.[1] ?? ''));
    if (greeting) {
      const said = nth(REPLY.exec(greeting.text) ?? [], 3).trim();
      facts.push(told('outcome', lineAt(greeting), `server answers: ${said.slice(0, 120)}`));
      facts.push(once('protocol', lineAt(greeting), 'tcp'));
    }
    const isServers = isAnswer(text);
    for (const line of lines) {
      const found = announcedIn(line, isServers);
      if (!found && /^22[79]$/.test(REPLY.exec(line.text)?.[1] ?? ''))
        problems.push(problemAt(line, 'address-unreadable'));
      if (found) facts.push(told('announced', lineAt(line), { ...found, key: null }, line.text.trim()));
    }
    return { format: 'server-dialogue', facts, problems, covers: [] };
  },
};

/** A description of a session may be the client's own: only below an answer it is the server's. */
const isAnswer = (text: string): boolean => /^(?:SIP\/2\.0|RTSP\/1\.\d) 2\d\d\b/m.test(text);

/** The address and port that a line sends the client to; an address of null is the one that was dialled. */
function announcedIn(
  { text }: Line,
  isServers: boolean,
): { readonly address: string | null; readonly port: number | null } | null {
  const reply = REPLY.exec(text);
  const passive = reply?.[1] === '227' ? PASSIVE.exec(nth(reply, 3)) : null;
  if (passive) {
    const [a, b, c, d, high, low] = passive.slice(1).map(Number) as [
      number,
      number,
      number,
      number,
      number,
      number,
    ];
    return [a, b, c, d, high, low].every((n) => n <= 255)
      ? { address: [a, b, c, d].join('.'), port: high * 256 + low }
      : null;
  }
  const extended = reply?.[1] === '229' ? EXTENDED.exec(nth(reply, 3)) : null;
  if (extended) return { address: null, port: Number(nth(extended, 1)) };
  const media = MEDIA_ADDRESS.exec(text.trim())?.[1];
  if (media && isServers && parseAddress(media)) return { address: media, port: null };
  if (!TRANSPORT.test(text.trim())) return null;
  const source = /;source=([0-9A-Fa-f.:]+)/.exec(text)?.[1];
  const port = /;server_port=(\d{1,5})/.exec(text)?.[1];
  return source && parseAddress(source)
    ? { address: source, port: port === undefined ? null : Number(port) }
    : null;
}
