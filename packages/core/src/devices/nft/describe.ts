import { nth } from '../../place/index.ts';
import { isObject, type Json, type JsonObject } from './objects.ts';

/** A rule in nft's own words, for rules that came as JSON. */
export function describeRule(statements: readonly Json[]): string {
  return statements
    .map(statementText)
    .filter((t) => t !== '')
    .join(' ');
}

function statementText(statement: Json): string {
  if (typeof statement === 'string') return statement;
  if (!isObject(statement)) return JSON.stringify(statement);
  const name = Object.keys(statement)[0] ?? '';
  const body = statement[name] as Json;
  switch (name) {
    case 'match':
      return matchText(body as JsonObject);
    case 'counter':
      return 'counter';
    case 'log':
      return isObject(body) && body['prefix'] !== undefined
        ? `log prefix "${String(body['prefix'])}"`
        : 'log';
    case 'jump':
    case 'goto':
      return `${name} ${isObject(body) ? String(body['target']) : ''}`;
    case 'vmap':
      return isObject(body)
        ? `${expression(body['key'] as Json)} vmap ${expression(body['data'] as Json)}`
        : 'vmap';
    case 'dnat':
    case 'snat':
    case 'redirect':
    case 'masquerade':
      return translationText(name, body);
    case 'reject':
      return isObject(body)
        ? `reject with ${String(body['type'])}${body['expr'] === undefined ? '' : ` ${String(body['expr'])}`}`
        : 'reject';
    case 'mangle':
      return isObject(body)
        ? `${expression(body['key'] as Json)} set ${expression(body['value'] as Json)}`
        : 'mangle';
    case 'limit':
      return isObject(body) ? `limit rate ${String(body['rate'])}/${String(body['per'])}` : 'limit';
    case 'comment':
      return `comment "${String(body)}"`;
    default:
      return body === null ? name : `${name} ${expression(body)}`;
  }
}

function matchText(body: JsonObject): string {
  const op = String(body['op'] ?? '==');
  const sign = op === '==' || op === 'in' ? '' : `${op} `;
  return `${expression(body['left'] as Json)} ${sign}${expression(body['right'] as Json)}`;
}

function translationText(name: string, body: Json): string {
  if (!isObject(body)) return name;
  const port = body['port'] === undefined ? '' : `:${expression(body['port'] as Json)}`;
  const family = body['family'] === undefined ? '' : ` ${String(body['family'])}`;
  const to = body['addr'] === undefined ? port : `${expression(body['addr'] as Json)}${port}`;
  return to === '' ? name : `${name}${family} to ${to}`;
}

/** A member of a set, or a key of a map with its value. */
const member = (value: Json): string =>
  Array.isArray(value) && value.length === 2
    ? `${expression(value[0] as Json)} : ${expression(value[1] as Json)}`
    : expression(value);

function expression(value: Json): string {
  if (value === null) return '';
  if (typeof value !== 'object') return String(value);
  if (Array.isArray(value)) return (value as readonly Json[]).map(expression).join(',');
  const o = value as JsonObject;
  const name = Object.keys(o)[0] ?? '';
  const body = o[name] as Json;
  if (isObject(body)) {
    switch (name) {
      case 'payload':
        return body['base'] === undefined
          ? `${String(body['protocol'])} ${String(body['field'])}`
          : `@${String(body['base'])},${String(body['offset'])},${String(body['len'])}`;
      case 'meta':
        return ['iif', 'oif', 'iifname', 'oifname', 'mark'].includes(String(body['key']))
          ? String(body['key'])
          : `meta ${String(body['key'])}`;
      case 'ct':
        return `ct ${body['dir'] === undefined ? '' : `${String(body['dir'])} `}${String(body['key'])}`;
      case 'fib':
        return `fib ${expression(body['flags'] as Json).replaceAll(',', ' . ')} ${String(body['result'])}`;
      case 'prefix':
        return `${String(body['addr'])}/${String(body['len'])}`;
      case 'map':
        return `${expression(body['key'] as Json)} map ${expression(body['data'] as Json)}`;
      case 'elem':
        return expression(body['val'] as Json);
      case 'jump':
      case 'goto':
        return `${name} ${String(body['target'])}`;
    }
  }
  if (Array.isArray(body)) {
    const parts = body as readonly Json[];
    switch (name) {
      case 'set':
        return `{ ${parts.map(member).join(', ')} }`;
      case 'range':
        return parts.map(expression).join('-');
      case 'concat':
        return parts.map(expression).join(' . ');
      case '&':
      case '|':
      case '^':
        return `${expression(nth(parts, 0))} ${name} ${expression(nth(parts, 1))}`;
    }
  }
  return body === null ? name : `${name} ${expression(body)}`.trim();
}
