import { nth } from '../../place/index.ts';
import { type Family } from '../../net/index.ts';
import type { Field, RejectKind, Step, Verdict } from '../../rules/index.ts';
import { fieldsOf } from './fields.ts';
import { isObject, type Json, type JsonObject } from './objects.ts';
import { bitsFor, numbers, ordered, Unmodelled } from './values.ts';
import { type TableContext } from './context.ts';
import { setName, elementsOf, rowsOf, lookupOf } from './keys.ts';
import { markName, markExpression } from './marks.ts';
import { translation, portsOf, redirect } from './translations.ts';

/** Compiles the statements of one rule, in order. */
export function compileSteps(statements: readonly Json[], context: TableContext): Step[] {
  return statements.flatMap((statement): Step[] => {
    try {
      return compileStatement(statement, context);
    } catch (error) {
      if (!(error instanceof Unmodelled)) throw error;
      const isMatch = isObject(statement) && 'match' in statement;
      return [
        {
          do: isMatch ? 'unmodelled-match' : 'unmodelled-action',
          doubt: { doubt: 'not-modelled', part: 'statement', text: error.message },
        },
      ];
    }
  });
}

/** Statements that never change what happens to this packet. */
const NOTES = new Set([
  'counter',
  'log',
  'comment',
  'set',
  'flow',
  'dup',
  'nftrace',
  'ct helper',
  'ct timeout',
  'ct expectation',
  'secmark',
  'last',
  'add',
  'update',
  'delete',
]);
/** Conditions that depend on earlier packets or on the clock. */
const CHANCES = new Set(['limit', 'quota', 'ct count', 'connlimit', 'meter']);

/** What a statement says of itself; throws Unmodelled where its listing was damaged there. */
function bodyOf(name: string, body: Json): JsonObject {
  if (!isObject(body)) throw new Unmodelled(`the statement ${name} ${JSON.stringify(body)}`);
  return body;
}

function compileStatement(statement: Json, context: TableContext): Step[] {
  if (typeof statement === 'string') return compileStatement({ [statement]: null }, context);
  if (!isObject(statement)) throw new Unmodelled(`the statement ${JSON.stringify(statement)}`);
  const name = Object.keys(statement)[0] ?? '';
  const body = statement[name] as Json;
  switch (name) {
    case 'match':
      return [compileMatch(bodyOf(name, body), context)];
    case 'accept':
    case 'drop':
    case 'return':
    case 'continue':
    case 'jump':
    case 'goto':
    case 'reject':
      return reject(name, body, verdictOf(statement, context));
    case 'vmap':
      return [
        { do: 'verdict-map', lookup: lookupOf(bodyOf(name, body), context, (v) => verdictOf(v, context)) },
      ];
    case 'dnat':
      return [...familyOf(body), translation('destination', body, context)];
    case 'snat':
      return [...familyOf(body), translation('source', body, context)];
    case 'masquerade':
      return [{ do: 'masquerade', ports: portsOf(isObject(body) ? body['port'] : undefined) }];
    case 'redirect':
      return [redirect(isObject(body) ? body['port'] : undefined, context)];
    case 'mangle':
      return mangle(bodyOf(name, body), context);
    case 'notrack':
      return [{ do: 'notrack' }];
  }
  if (NOTES.has(name))
    return setHasLimit(body)
      ? [{ do: 'chance', doubt: { doubt: 'limit-per-sender' } }]
      : [{ do: 'note', what: name }];
  if (CHANCES.has(name))
    return [
      { do: 'chance', doubt: { doubt: 'earlier-packets', what: name === 'limit' ? 'a rate limit' : name } },
    ];
  throw new Unmodelled(`the statement “${name}”`);
}

/** A dynamic set update may carry a limit of its own: `update @seen { ip saddr limit rate 5/minute }`. */
const setHasLimit = (body: Json): boolean => isObject(body) && JSON.stringify(body).includes('"limit"');

const only = (field: Field, value: number): Step => ({
  do: 'match',
  fields: [field],
  rows: [[numbers({ first: value, last: value })]],
  negate: false,
});

/** NFPROTO_IPV4 and NFPROTO_IPV6, as `meta nfproto` has them. */
export const familyMatch = (family: Family): Step[] => [only({ of: 'family' }, family === 4 ? 2 : 10)];

function reject(name: string, body: Json, verdict: Verdict): Step[] {
  const steps: Step[] = [{ do: 'verdict', verdict }];
  // nft leaves out the match that the kind of refusal implies: `reject with icmpv6 …` is for IPv6 packets
  // only.
  const type = name === 'reject' && isObject(body) ? String(body['type'] ?? '') : '';
  if (type === 'tcp reset') return [only({ of: 'protocol' }, 6), ...steps];
  if (type === 'icmp') return [...familyMatch(4), ...steps];
  if (type === 'icmpv6') return [...familyMatch(6), ...steps];
  return steps;
}

function compileMatch(body: JsonObject, context: TableContext): Step {
  const op = String(body['op'] ?? '==');
  const right = body['right'] as Json;
  const fields = fieldsOf(body['left'] as Json, context.family);
  if (op === 'in' || op === '!') {
    const mask = bitsFor(nth(fields, 0), right);
    if (context.set(setName(right) ?? '') === null)
      return { do: 'match', fields, rows: [[{ type: 'bits', mask }]], negate: op === '!' };
  }
  if (op === '<' || op === '>' || op === '<=' || op === '>=')
    return { do: 'match', fields, rows: [[ordered(nth(fields, 0), op, right)]], negate: false };
  if (op !== '==' && op !== '!=' && op !== 'in') throw new Unmodelled(`the comparison ${op}`);
  // A plain list of flags is their union; a set in braces is a choice between values.
  const value =
    Array.isArray(right) && nth(fields, 0).of !== 'in' && nth(fields, 0).of !== 'out'
      ? bitsFor(nth(fields, 0), right)
      : right;
  return { do: 'match', fields, rows: rowsOf(fields, elementsOf(value, context)), negate: op === '!=' };
}

/** libnftables' reject types; numbers are what `-nn` prints for icmpx. */
const REJECT_KIND: Readonly<Record<string, RejectKind>> = {
  'tcp reset': 'tcp-reset',
  'port-unreachable': 'port-unreachable',
  'host-unreachable': 'host-unreachable',
  'net-unreachable': 'net-unreachable',
  'prot-unreachable': 'protocol-unreachable',
  'admin-prohibited': 'admin-prohibited',
  'host-prohibited': 'admin-prohibited',
  'net-prohibited': 'admin-prohibited',
  'no-route': 'net-unreachable',
  'addr-unreachable': 'host-unreachable',
  'policy-fail': 'admin-prohibited',
  'reject-route': 'admin-prohibited',
};

export function rejectKind(type: string | null, code: string | null): RejectKind {
  if (type === 'tcp reset') return 'tcp-reset';
  return REJECT_KIND[code ?? 'port-unreachable'] ?? 'port-unreachable';
}

function verdictOf(json: Json, context: TableContext): Verdict {
  if (typeof json === 'string') return verdictOf({ [json]: null }, context);
  if (!isObject(json)) throw new Unmodelled(`the verdict ${JSON.stringify(json)}`);
  const name = Object.keys(json)[0] ?? '';
  const body = json[name] as Json;
  switch (name) {
    case 'accept':
    case 'drop':
    case 'return':
    case 'continue':
      return { verdict: name };
    case 'jump':
    case 'goto': {
      const target = isObject(body) ? String(body['target']) : String(body);
      const chain = context.chain(target);
      if (!chain) throw new Unmodelled(`the jump to chain ${target}, which the listing does not hold,`);
      return { verdict: name, chain };
    }
    case 'reject':
      return {
        verdict: 'reject',
        kind: rejectKind(
          isObject(body) ? String(body['type'] ?? '') : null,
          isObject(body) && body['expr'] !== undefined ? String(body['expr']) : null,
        ),
      };
    default:
      throw new Unmodelled(`the verdict “${name}”`);
  }
}

/** `dnat ip to …` in a table of both families sees one of them only. */
const familyOf = (body: Json): Step[] =>
  isObject(body) && (body['family'] === 'ip' || body['family'] === 'ip6')
    ? [only({ of: 'family' }, body['family'] === 'ip' ? 2 : 10)]
    : [];

/** Fields of a header that decide where a packet goes, and how far. */
const REWRITTEN: ReadonlySet<string> = new Set(['saddr', 'daddr', 'sport', 'dport', 'ttl', 'hoplimit']);

/**
 * Marks are followed; header bytes that do not decide the way are let be; rewritten addresses and ports are
 * not modelled.
 */
function mangle(body: JsonObject, context: TableContext): Step[] {
  const key = body['key'] as Json;
  if (isObject(key)) {
    const on = markName(key);
    if (on) return [{ do: 'set-mark', on, ...markExpression(body['value'] as Json, on, context) }];
    if (isObject(key['payload']) && REWRITTEN.has(String(key['payload']['field'])))
      throw new Unmodelled('a rewritten header field');
    if (isObject(key['ct']) && key['ct']['key'] === 'zone')
      throw new Unmodelled('a connection tracking zone');
  }
  return [{ do: 'note', what: 'mangle' }];
}
