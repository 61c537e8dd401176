import { isObject, type Json } from '../../../devices/index.ts';
import { leftSide, NotUnderstood, rightSide, scalar, startsExpression } from './expressions.ts';
import { reject } from './reject.ts';
import { Cursor, type Token } from './tokens.ts';
import { translation, ownAddress } from './translations.ts';

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
    case 'last':
      cursor.at++;
      if (cursor.take('used')) cursor.at++;
      return [{ last: null }];
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

const OPERATORS = new Set(['==', '!=', '<', '>', '<=', '>=', '!']);

function matchOrSet(cursor: Cursor): Json[] {
  const left = leftSide(cursor);
  if (cursor.take('set')) return [{ mangle: { key: left, value: markValue(cursor) } }];
  if (cursor.take('vmap'))
    return [
      { vmap: { key: left, data: cursor.peek() === '{' ? rightSide(cursor) : scalar(cursor.value()) } },
    ];
  const op = OPERATORS.has(cursor.peek() ?? '') ? cursor.next().text : null;
  if (isFib(left) && (cursor.peek() === 'missing' || cursor.peek() === 'exists'))
    return [{ match: { op: '==', left, right: cursor.next().text === 'exists' } }];
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
    const op = cursor.next().text;
    value = { [op]: [value, scalar(cursor.value())] };
  }
  return value;
}

function unmasked(cursor: Cursor): Json {
  const [head, key] =
    cursor.peek() === 'mark'
      ? ['meta', cursor.next().text]
      : [cursor.next().text, cursor.value()?.text ?? ''];
  return { [head]: { key } };
}
