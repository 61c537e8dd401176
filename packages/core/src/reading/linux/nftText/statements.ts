import { isObject, type Json } from '../../../devices/index.ts';
import { leftSide, NotUnderstood, rightSide, scalar, startsExpression, valueOf } from './expressions.ts';
import { Cursor, type Token } from './tokens.ts';

/** The statements of one rule. What is not understood becomes one `unparsed` statement, never nothing. */
export function parseRule(tokens: readonly Token[]): { steps: Json[]; problem: string | null } {
  const cursor = new Cursor(tokens);
  const steps: Json[] = [];
  while (!cursor.done) {
    const start = cursor.at;
    try {
      steps.push(...statement(cursor));
    } catch (error) {
      if (!(error instanceof NotUnderstood)) throw error;
      const rest = tokens
        .slice(start)
        .map((t) => t.text)
        .join(' ');
      steps.push({ [`unparsed: ${rest}`]: null });
      return { steps, problem: error.message };
    }
    if (cursor.at === start) throw new Error('the rule parser does not move on');
  }
  return { steps, problem: null };
}

function statement(cursor: Cursor): Json[] {
  const word = cursor.peek();
  if (word === null) throw new NotUnderstood('a text stands where a statement belongs');
  switch (word) {
    case 'accept':
    case 'drop':
    case 'return':
    case 'continue':
    case 'notrack':
      cursor.at++;
      return [{ [word]: null }];
    case 'jump':
    case 'goto':
      cursor.at++;
      return [{ [word]: { target: scalar(cursor.value()) } }];
    case 'counter':
      return counter(cursor);
    case 'log':
      return log(cursor);
    case 'limit':
      return limit(cursor);
    case 'quota':
      return quota(cursor);
    case 'comment':
      cursor.at += 2;
      return [];
    case 'reject':
      return reject(cursor);
    case 'dnat':
    case 'snat':
      return translation(cursor, word);
    case 'masquerade':
    case 'redirect':
      return ownAddress(cursor, word);
    case 'add':
    case 'update':
    case 'delete':
      if (cursor.peek(1)?.startsWith('@')) return setUpdate(cursor, word);
      break;
    case 'xt':
      cursor.at += 3;
      return [{ xt: null }];
    case 'flow':
      cursor.at += 3;
      return [{ flow: null }];
  }
  if (word === 'ct' && cursor.peek(1) === 'count') return ctCount(cursor);
  if (word === 'ct' && CT_OBJECTS.has(cursor.peek(1) ?? '') && cursor.peek(2) === 'set') {
    cursor.at += 4;
    return [{ 'ct helper': null }];
  }
  if (startsExpression(word)) return matchOrSet(cursor);
  throw new NotUnderstood(word);
}

/** Objects that a session may be given; none of them decides about this packet. */
const CT_OBJECTS: ReadonlySet<string> = new Set(['helper', 'timeout', 'expectation']);

function counter(cursor: Cursor): Json[] {
  cursor.at++;
  if (cursor.take('name')) cursor.at++;
  if (cursor.take('packets')) cursor.at++;
  if (cursor.take('bytes')) cursor.at++;
  return [{ counter: null }];
}

function log(cursor: Cursor): Json[] {
  cursor.at++;
  let prefix: string | null = null;
  for (;;) {
    if (cursor.take('prefix')) prefix = cursor.value()?.text ?? '';
    else if (
      cursor.take('level') ||
      cursor.take('group') ||
      cursor.take('snaplen') ||
      cursor.take('queue-threshold')
    )
      cursor.at++;
    else if (cursor.take('flags')) {
      cursor.at++;
      while (['options', 'sequence', ','].includes(cursor.peek() ?? '')) cursor.at++;
    } else return [{ log: prefix === null ? null : { prefix } }];
  }
}

function limit(cursor: Cursor): Json[] {
  cursor.at++;
  if (cursor.take('name')) {
    cursor.at++;
    return [{ limit: null }];
  }
  if (!cursor.take('rate')) throw new NotUnderstood('limit');
  cursor.take('over');
  cursor.at++;
  if (/^[kmg]?bytes\//.test(cursor.peek() ?? '')) cursor.at++;
  if (cursor.take('burst')) cursor.at += 2;
  return [{ limit: null }];
}

function quota(cursor: Cursor): Json[] {
  cursor.at++;
  if (cursor.take('name')) cursor.at++;
  else {
    if (!cursor.take('over')) cursor.take('until');
    cursor.at += 2;
    if (cursor.take('used')) cursor.at += 2;
  }
  return [{ quota: null }];
}

function ctCount(cursor: Cursor): Json[] {
  cursor.at += 2;
  cursor.take('over');
  cursor.at++;
  return [{ 'ct count': null }];
}

function setUpdate(cursor: Cursor, word: string): Json[] {
  cursor.at += 2;
  let text = '';
  let depth = 0;
  do {
    const t = cursor.value();
    if (!t) break;
    if (t.text === '{') depth++;
    if (t.text === '}') depth--;
    text += `${t.text} `;
  } while (depth > 0);
  return [{ [word]: text.includes('limit rate') ? { limit: null } : null }];
}

function reject(cursor: Cursor): Json[] {
  cursor.at++;
  if (!cursor.take('with')) return [{ reject: null }];
  if (cursor.take('tcp', 'reset')) return [{ reject: { type: 'tcp reset' } }];
  const type = cursor.value()?.text ?? '';
  cursor.take('type');
  const code = cursor.value()?.text ?? '';
  return [
    {
      reject: { type, expr: /^\d+$/.test(code) ? (CODES[type]?.[Number(code)] ?? 'port-unreachable') : code },
    },
  ];
}

/**
 * Numbers that `nft -nn` prints for reject codes (RFC 792, RFC 4443; icmpx as in
 * linux/netfilter/nf_tables.h).
 */
const CODES: Readonly<Record<string, readonly string[]>> = {
  icmpx: ['no-route', 'port-unreachable', 'host-unreachable', 'admin-prohibited'],
  icmp: [
    'net-unreachable',
    'host-unreachable',
    'prot-unreachable',
    'port-unreachable',
    '',
    '',
    '',
    '',
    '',
    'net-prohibited',
    'host-prohibited',
    '',
    '',
    'admin-prohibited',
  ],
  icmpv6: [
    'no-route',
    'admin-prohibited',
    '',
    'addr-unreachable',
    'port-unreachable',
    'policy-fail',
    'reject-route',
  ],
};

const TRANSLATION_FLAGS = ['random', 'fully-random', 'persistent', ','];

function translation(cursor: Cursor, word: 'dnat' | 'snat'): Json[] {
  cursor.at++;
  const family = cursor.peek() === 'ip' || cursor.peek() === 'ip6' ? cursor.value()!.text : null;
  let flag: string | null = null;
  if (cursor.take('prefix')) flag = 'prefix';
  if (cursor.take('addr', '.', 'port')) flag = 'concat';
  if (!cursor.take('to')) throw new NotUnderstood(`${word} without “to”`);
  const body: Record<string, Json> = family ? { family } : {};
  if (flag) body['type_flags'] = flag;
  if (startsExpression(cursor.peek())) {
    const key = leftSide(cursor);
    if (!cursor.take('map')) throw new NotUnderstood(`${word} to an expression without a map`);
    body['addr'] = { map: { key, data: rightSide(cursor) } };
  } else Object.assign(body, targetWithPort(cursor));
  while (TRANSLATION_FLAGS.includes(cursor.peek() ?? '')) cursor.at++;
  return [{ [word]: body }];
}

/** A target whose port may be looked up: `ADDR:tcp dport map { … }`, also with the colon apart. */
function targetWithPort(cursor: Cursor): { [key: string]: Json } {
  const text = scalarText(cursor);
  const joined = /^(.+):([a-z]\w*)$/.exec(text);
  if (joined?.[1] !== undefined && startsExpression(joined[2] ?? null)) {
    cursor.at--;
    return { ...target(joined[1]), port: portMap(cursor, { protocol: joined[2] ?? '' }) };
  }
  if (!cursor.take(':')) return target(text);
  return {
    ...target(text),
    port: startsExpression(cursor.peek()) ? portMap(cursor, null) : scalar(cursor.value()),
  };
}

/** `tcp dport map { 8080 : 80 }`; its first word may still hang on the address before it. */
function portMap(cursor: Cursor, hanging: { readonly protocol: string } | null): Json {
  let key: Json;
  if (hanging) {
    cursor.at++;
    key = { payload: { protocol: hanging.protocol, field: cursor.value()?.text ?? '' } };
  } else key = leftSide(cursor);
  if (!cursor.take('map')) throw new NotUnderstood('a port that is looked up without a map');
  return { map: { key, data: rightSide(cursor) } };
}

const scalarText = (cursor: Cursor): string => {
  const token = cursor.value();
  if (!token || token.text === '\n') throw new NotUnderstood('a translation target is missing');
  return token.text;
};

/** `ADDR`, `ADDR:PORT`, `[ADDR6]:PORT`, `:PORT`; address and port may be ranges. */
function target(text: string): { [key: string]: Json } {
  const port = /^:(\d+(?:-\d+)?)$/.exec(text)?.[1];
  if (port !== undefined) return { port: valueOf(port) };
  const match =
    /^(?:\[([^\]]+)\](?:-\[([^\]]+)\])?|([0-9.]+(?:-[0-9.]+|\/\d+)?)|([0-9a-fA-F]*:[0-9a-fA-F:.]+(?:-[0-9a-fA-F:.]+|\/\d+)?))?(?::(\d+(?:-\d+)?))?$/.exec(
      text,
    );
  const v6 = match?.[4];
  if (!match || text === '') throw new NotUnderstood(`the translation target ${text}`);
  let host;
  if (match[1]) host = match[2] ? `${match[1]}-${match[2]}` : match[1];
  else host = match[3] ?? v6;
  return { ...(host ? { addr: valueOf(host) } : {}), ...(match[5] ? { port: valueOf(match[5]) } : {}) };
}

function ownAddress(cursor: Cursor, word: 'masquerade' | 'redirect'): Json[] {
  cursor.at++;
  let port: Json | null = null;
  if (cursor.take('to')) {
    if (cursor.take(':')) {
      if (startsExpression(cursor.peek())) throw new NotUnderstood(`${word} to a map`);
      port = scalar(cursor.value());
    } else port = valueOf(scalarText(cursor).replace(/^:/, ''));
  }
  while (TRANSLATION_FLAGS.includes(cursor.peek() ?? '')) cursor.at++;
  return [{ [word]: port === null ? null : { port } }];
}

const OPERATORS = new Set(['==', '!=', '<', '>', '<=', '>=', '!']);

function matchOrSet(cursor: Cursor): Json[] {
  const left = leftSide(cursor);
  if (cursor.take('set')) return [{ mangle: { key: left, value: markValue(cursor) } }];
  if (cursor.take('vmap'))
    return [
      { vmap: { key: left, data: cursor.peek() === '{' ? rightSide(cursor) : scalar(cursor.value()) } },
    ];
  const op = OPERATORS.has(cursor.peek() ?? '') ? cursor.value()!.text : null;
  if (isFib(left) && (cursor.peek() === 'missing' || cursor.peek() === 'exists'))
    return [{ match: { op: '==', left, right: cursor.value()!.text === 'exists' } }];
  const right = rightSide(cursor);
  // `tcp flags syn / fin,syn,rst,ack`: value, then mask.
  if (cursor.take('/'))
    return [{ match: { op: op ?? '==', left: { '&': [left, rightSide(cursor)] }, right } }];
  return [{ match: { op: op ?? (isFlagField(left) && !isSet(right) ? 'in' : '=='), left, right } }];
}

const isFib = (left: Json): boolean => isObject(left) && 'fib' in left;
const isSet = (right: Json): boolean =>
  (isObject(right) && 'set' in right) || (typeof right === 'string' && right.startsWith('@'));

/** For these a plain list means "any of the bits"; without an operator also a single word does. */
function isFlagField(left: Json): boolean {
  if (!isObject(left)) return false;
  const { ct, payload } = left;
  if (isObject(ct)) return !('dir' in ct) && (ct['key'] === 'state' || ct['key'] === 'status');
  return isObject(payload) && payload['protocol'] === 'tcp' && payload['field'] === 'flags';
}

/** `0x10`, `ct mark`, `meta mark & 0xff | 0x10` … as nested binary operations, left to right. */
function markValue(cursor: Cursor): Json {
  if (cursor.take('rt')) return { rt: { key: cursor.value()?.text ?? '' } };
  let value: Json =
    cursor.peek() === 'ct' || cursor.peek() === 'meta' || cursor.peek() === 'mark'
      ? unmasked(cursor)
      : scalar(cursor.value());
  while (cursor.peek() === '&' || cursor.peek() === '|' || cursor.peek() === '^') {
    const op = cursor.value()!.text;
    value = { [op]: [value, scalar(cursor.value())] };
  }
  return value;
}

function unmasked(cursor: Cursor): Json {
  const [head, key] =
    cursor.peek() === 'mark'
      ? ['meta', cursor.value()!.text]
      : [cursor.value()!.text, cursor.value()?.text ?? ''];
  return { [head]: { key } };
}
