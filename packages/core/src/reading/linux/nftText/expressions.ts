import { nth } from '../../../place/index.ts';
import type { Json } from '../../../devices/index.ts';
import { parseAddress } from '../../../net/index.ts';
import type { Cursor, Token } from './tokens.ts';

/**
 * Thrown where the words are not ones that this reader knows; the rule keeps what came before and is marked.
 */
export class NotUnderstood extends Error {}

const BARE_META = new Set([
  'iifname',
  'oifname',
  'iif',
  'oif',
  'mark',
  'skuid',
  'skgid',
  'iifgroup',
  'oifgroup',
  'iiftype',
  'oiftype',
  'pkttype',
]);
const META_KEYS = new Set([
  ...BARE_META,
  'cpu',
  'rtclassid',
  'nftrace',
  'cgroup',
  'l4proto',
  'nfproto',
  'protocol',
  'priority',
  'length',
  'random',
  'ipsec',
  'time',
  'day',
  'hour',
  'secmark',
  'iifkind',
  'oifkind',
]);
const PAYLOADS = new Set([
  'ip',
  'ip6',
  'tcp',
  'udp',
  'th',
  'icmp',
  'icmpv6',
  'ether',
  'arp',
  'vlan',
  'sctp',
  'dccp',
  'udplite',
  'esp',
  'ah',
  'comp',
  'igmp',
]);

/** A left-hand side: fields, joined by ` . `, each possibly masked. */
export function leftSide(cursor: Cursor): Json {
  const parts = [field(cursor)];
  while (cursor.take('.')) parts.push(field(cursor));
  return parts.length === 1 ? nth(parts, 0) : { concat: parts };
}

export function startsExpression(word: string | null): boolean {
  return (
    word !== null &&
    (PAYLOADS.has(word) ||
      BARE_META.has(word) ||
      word === 'meta' ||
      word === 'ct' ||
      word === 'fib' ||
      word.startsWith('@nh,') ||
      word.startsWith('@th,') ||
      word.startsWith('@ll,'))
  );
}

function field(cursor: Cursor): Json {
  const plain = primary(cursor);
  if (cursor.take('&')) return { '&': [plain, maskValue(cursor)] };
  return plain;
}

const maskValue = (cursor: Cursor): Json => (cursor.take('(') ? flagList(cursor) : scalar(cursor.value()));

/** `fin | syn)`, `fin,syn)` or `fin|syn)`: flags up to the closing bracket. */
function flagList(cursor: Cursor): Json {
  const parts: Json[] = [];
  do {
    const value = scalar(cursor.value());
    parts.push(...(typeof value === 'string' ? value.split('|') : [value]));
  } while (cursor.take('|') || cursor.take(','));
  if (!cursor.take(')')) throw new NotUnderstood('“)” is missing');
  return parts;
}

function primary(cursor: Cursor): Json {
  const word = cursor.peek();
  if (word === null) throw new NotUnderstood('an expression is missing');
  const raw = /^@(nh|th|ll),(\d+),(\d+)$/.exec(word);
  if (raw) {
    cursor.at++;
    return { payload: { base: nth(raw, 1), offset: Number(raw[2]), len: Number(raw[3]) } };
  }
  if (word === 'meta' || BARE_META.has(word)) {
    if (word === 'meta') cursor.at++;
    const key = cursor.value()?.text ?? '';
    if (!META_KEYS.has(key)) throw new NotUnderstood(`meta ${key}`);
    return { meta: { key } };
  }
  if (word === 'ct') return ctField(cursor);
  if (word === 'fib') return fibField(cursor);
  if (PAYLOADS.has(word)) {
    cursor.at++;
    if (word === 'tcp' && cursor.take('option')) return tcpOption(cursor);
    const name = cursor.value()?.text ?? '';
    if (!/^[a-z][a-z0-9-]*$/.test(name)) throw new NotUnderstood(`${word} ${name}`);
    return { payload: { protocol: word, field: name } };
  }
  throw new NotUnderstood(word);
}

/** Words after a TCP option that are no field of it. */
const NO_FIELD = /^(?:set|exists|missing|[=!<>]+|\d.*)$/;

/** `tcp option maxseg size`, `tcp option sack-permitted`. */
function tcpOption(cursor: Cursor): Json {
  const name = cursor.value()?.text ?? '';
  const next = cursor.peek();
  const field = next === null || NO_FIELD.test(next) ? null : (cursor.value()?.text ?? null);
  return { 'tcp option': { name, ...(field === null ? {} : { field }) } };
}

function ctField(cursor: Cursor): Json {
  cursor.at++;
  const dir = cursor.peek() === 'original' || cursor.peek() === 'reply' ? cursor.next().text : null;
  const family =
    dir !== null && (cursor.peek() === 'ip' || cursor.peek() === 'ip6') ? cursor.next().text : null;
  const key = cursor.value()?.text ?? '';
  if (key === 'count' || key === 'helper' || key === '') throw new NotUnderstood(`ct ${key}`);
  return { ct: { key: family ? `${family} ${key}` : key, ...(dir ? { dir } : {}) } };
}

function fibField(cursor: Cursor): Json {
  cursor.at++;
  const flags = [cursor.value()?.text ?? ''];
  while (cursor.take('.')) flags.push(cursor.value()?.text ?? '');
  return { fib: { flags, result: cursor.value()?.text ?? '' } };
}

/** A right-hand side: a set in braces, a named set, a list of flags, or one value. */
export function rightSide(cursor: Cursor): Json {
  if (cursor.peek() === '{') return { set: elements(cursor) };
  if (cursor.take('(')) return flagList(cursor);
  const first = concatenated(cursor);
  if (cursor.peek() !== ',') return first;
  const list = [first];
  while (cursor.take(',')) list.push(concatenated(cursor));
  return list;
}

/** `{ a, b : c, … }`; pairs become two-element arrays, as in nft's JSON. */
export function elements(cursor: Cursor): Json[] {
  if (!cursor.take('{')) throw new NotUnderstood('“{” is missing');
  const out: Json[] = [];
  for (;;) {
    cursor.skipLines();
    if (cursor.take('}')) return out;
    if (cursor.done) throw new NotUnderstood('the set is not closed');
    const key = concatenated(cursor);
    skipElementOptions(cursor);
    if (cursor.take(':')) out.push([key, mapValue(cursor)]);
    else out.push(key);
    skipElementOptions(cursor);
    cursor.skipLines();
    if (!cursor.take(',') && cursor.peek() !== '}') throw new NotUnderstood('“,” or “}” is missing in a set');
  }
}

function skipElementOptions(cursor: Cursor): void {
  for (;;) {
    if (cursor.take('timeout') || cursor.take('expires') || cursor.take('comment')) cursor.at++;
    else if (cursor.take('counter')) {
      if (cursor.take('packets')) cursor.at++;
      if (cursor.take('bytes')) cursor.at++;
    } else return;
  }
}

function mapValue(cursor: Cursor): Json {
  const word = cursor.peek();
  if (word === 'accept' || word === 'drop' || word === 'return' || word === 'continue') {
    cursor.at++;
    return { [word]: null };
  }
  if (word === 'jump' || word === 'goto') {
    cursor.at++;
    return { [word]: { target: cursor.value()?.text ?? '' } };
  }
  return concatenated(cursor);
}

function concatenated(cursor: Cursor): Json {
  const parts = [scalar(cursor.value())];
  while (cursor.take('.')) parts.push(scalar(cursor.value()));
  return parts.length === 1 ? nth(parts, 0) : { concat: parts };
}

/** One word as a value: number, prefix, range, or text. */
export function scalar(token: Token | null): Json {
  if (token === null || token.text === '\n') throw new NotUnderstood('a value is missing');
  const { text, quoted } = token;
  if (quoted) return text;
  if (/^[{},;()]$/.test(text)) throw new NotUnderstood(`“${text}” stands where a value belongs`);
  return valueOf(text);
}

export function valueOf(text: string): Json {
  if (/^\d+$/.test(text) || /^0x[0-9a-f]+$/i.test(text)) return Number(text);
  const slash = /^([^/]+)\/(\d+)$/.exec(text);
  if (slash && parseAddress(nth(slash, 1))) return { prefix: { addr: nth(slash, 1), len: Number(slash[2]) } };
  const dash = /^([^-]+)-([^-]+)$/.exec(text);
  if (dash) {
    const [, a, b] = dash as unknown as [string, string, string];
    if ((/^\d+$/.test(a) && /^\d+$/.test(b)) || (/^0x/.test(a) && /^0x/.test(b)))
      return { range: [Number(a), Number(b)] };
    if (parseAddress(a) && parseAddress(b)) return { range: [a, b] };
  }
  return text;
}
