import { type Json } from '../../../devices/index.ts';
import { leftSide, NotUnderstood, rightSide, scalar, startsExpression, valueOf } from './expressions.ts';
import { Cursor } from './tokens.ts';

const TRANSLATION_FLAGS = ['random', 'fully-random', 'persistent', ','];

export function translation(cursor: Cursor, word: 'dnat' | 'snat'): Json[] {
  cursor.at++;
  const family = cursor.peek() === 'ip' || cursor.peek() === 'ip6' ? cursor.next().text : null;
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

const TARGET = new RegExp(
  String.raw`^(?:\[([^\]]+)\](?:-\[([^\]]+)\])?|([0-9.]+(?:-[0-9.]+|\/\d+)?)|` +
    String.raw`([0-9a-fA-F]*:[0-9a-fA-F:.]+(?:-[0-9a-fA-F:.]+|\/\d+)?))?(?::(\d+(?:-\d+)?))?$`,
);

/** `ADDR`, `ADDR:PORT`, `[ADDR6]:PORT`, `:PORT`; address and port may be ranges. */
export function target(text: string): { [key: string]: Json } {
  const port = /^:(\d+(?:-\d+)?)$/.exec(text)?.[1];
  if (port !== undefined) return { port: valueOf(port) };
  const match = TARGET.exec(text);
  const v6 = match?.[4];
  if (!match || text === '') throw new NotUnderstood(`the translation target ${text}`);
  let host;
  if (match[1]) host = match[2] ? `${match[1]}-${match[2]}` : match[1];
  else host = match[3] ?? v6;
  return { ...(host ? { addr: valueOf(host) } : {}), ...(match[5] ? { port: valueOf(match[5]) } : {}) };
}

export function ownAddress(cursor: Cursor, word: 'masquerade' | 'redirect'): Json[] {
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
