import { parseAddress, parsePrefix, prefixInterval, type Family } from '../../net/index.ts';
import type {
  Chain,
  Field,
  Lookup,
  MapRow,
  MarkName,
  RejectKind,
  Step,
  TranslationTarget,
  ValueSet,
  Verdict,
} from '../../rules/index.ts';
import { fieldsOf } from './fields.ts';
import { isObject, type Json, type JsonObject, type NftFamily } from './objects.ts';
import { bitsFor, numbers, ordered, Unmodelled, valuesFor } from './values.ts';

/** What a rule can refer to in its own table. */
export interface TableContext {
  readonly family: NftFamily;
  set(name: string): readonly Json[] | null;
  chain(name: string): Chain | null;
}

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

function compileStatement(statement: Json, context: TableContext): Step[] {
  if (typeof statement === 'string') return compileStatement({ [statement]: null }, context);
  if (!isObject(statement)) throw new Unmodelled(`the statement ${JSON.stringify(statement)}`);
  const name = Object.keys(statement)[0] ?? '';
  const body = statement[name] as Json;
  switch (name) {
    case 'match':
      return [compileMatch(body as JsonObject, context)];
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
        { do: 'verdict-map', lookup: lookupOf(body as JsonObject, context, (v) => verdictOf(v, context)) },
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
      return mangle(body as JsonObject, context);
    case 'notrack':
      return [{ do: 'notrack' }];
  }
  if (NOTES.has(name!))
    return setHasLimit(body)
      ? [{ do: 'chance', doubt: { doubt: 'limit-per-sender' } }]
      : [{ do: 'note', what: name! }];
  if (CHANCES.has(name!))
    return [
      { do: 'chance', doubt: { doubt: 'earlier-packets', what: name === 'limit' ? 'a rate limit' : name! } },
    ];
  throw new Unmodelled(`the statement “${name!}”`);
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
    const mask = bitsFor(fields[0]!, right);
    if (context.set(setName(right) ?? '') === null)
      return { do: 'match', fields, rows: [[{ type: 'bits', mask }]], negate: op === '!' };
  }
  if (op === '<' || op === '>' || op === '<=' || op === '>=')
    return { do: 'match', fields, rows: [[ordered(fields[0]!, op, right)]], negate: false };
  if (op !== '==' && op !== '!=' && op !== 'in') throw new Unmodelled(`the comparison ${op}`);
  // A plain list of flags is their union; a set in braces is a choice between values.
  const value =
    Array.isArray(right) && fields[0]!.of !== 'in' && fields[0]!.of !== 'out'
      ? bitsFor(fields[0]!, right)
      : right;
  return { do: 'match', fields, rows: rowsOf(fields, elementsOf(value, context)), negate: op === '!=' };
}

const setName = (value: Json): string | null =>
  typeof value === 'string' && value.startsWith('@') ? value.slice(1) : null;

function elementsOf(right: Json, context: TableContext): readonly Json[] {
  const name = setName(right);
  if (name !== null) {
    const elements = context.set(name);
    if (!elements) throw new Unmodelled(`the set @${name}, which the listing does not hold,`);
    return elements;
  }
  if (isObject(right) && Array.isArray(right['set'])) return right['set'] as Json[];
  return [right];
}

/** Single fields share one merged set; concatenations keep a row an element. */
function rowsOf(fields: readonly Field[], elements: readonly Json[]): ValueSet[][] {
  if (fields.length === 1) return elements.length === 0 ? [] : [[valuesFor(fields[0]!, elements)]];
  return elements.map((element) => keyOf(fields, element));
}

function keyOf(fields: readonly Field[], key: Json): ValueSet[] {
  if (isObject(key) && 'elem' in key && isObject(key['elem']))
    return keyOf(fields, key['elem']['val'] as Json);
  if (fields.length === 1) return [valuesFor(fields[0]!, key)];
  const parts = isObject(key) && Array.isArray(key['concat']) ? (key['concat'] as Json[]) : null;
  if (!parts || parts.length !== fields.length)
    throw new Unmodelled(`the set element ${JSON.stringify(key)}`);
  return fields.map((field, i) => valuesFor(field, parts[i]!));
}

function lookupOf<T>(body: JsonObject, context: TableContext, value: (json: Json) => T): Lookup<T> {
  const fields = fieldsOf(body['key'] as Json, context.family);
  const rows = elementsOf(body['data'] as Json, context).map((row): MapRow<T> => {
    if (!Array.isArray(row) || row.length !== 2)
      throw new Unmodelled(`the map element ${JSON.stringify(row)}`);
    return { key: keyOf(fields, row[0] as Json), value: value(row[1] as Json) };
  });
  // A catch-all element (`*`) answers only for what no other row holds.
  const isCatchAll = (row: MapRow<T>): boolean =>
    row.key.every(
      (set) =>
        set.type === 'numbers' &&
        set.set.length === 1 &&
        set.set[0]!.first === 0 &&
        set.set[0]!.last === 0xffff_ffff,
    );
  return { fields, rows: [...rows.filter((row) => !isCatchAll(row)), ...rows.filter(isCatchAll)] };
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
  const [name] = Object.keys(json);
  const body = json[name!] as Json;
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
      throw new Unmodelled(`the verdict “${name!}”`);
  }
}

/** `dnat ip to …` in a table of both families sees one of them only. */
const familyOf = (body: Json): Step[] =>
  isObject(body) && (body['family'] === 'ip' || body['family'] === 'ip6')
    ? [only({ of: 'family' }, body['family'] === 'ip' ? 2 : 10)]
    : [];

const FAMILY: Readonly<Record<string, Family>> = { ip: 4, ip6: 6 };

function translation(side: 'source' | 'destination', body: Json, context: TableContext): Step {
  if (!isObject(body)) throw new Unmodelled('a translation without a target');
  const addr = body['addr'] as Json | undefined;
  const family = FAMILY[String(body['family'] ?? '')] ?? FAMILY[context.family] ?? null;
  const ports = portsOf(isObject(body['port']) && 'map' in body['port'] ? undefined : body['port']);
  if (isObject(addr) && isObject(addr['map'])) {
    return {
      do: 'translate-map',
      side,
      family,
      lookup: lookupOf(addr['map'], context, (value) => ({
        ...targetOf(value),
        ...(ports ? { ports } : {}),
      })),
    };
  }
  if (isObject(body['port']) && isObject(body['port']['map'])) {
    const fixed = addr === undefined ? { addresses: null } : targetOf(addr);
    return {
      do: 'translate-map',
      side,
      family,
      lookup: lookupOf(body['port']['map'], context, (value) => ({
        addresses: fixed.addresses,
        ports: portsOf(value),
      })),
    };
  }
  const target = addr === undefined ? { addresses: null, ports: null } : targetOf(addr);
  const oneToOne = ['prefix', 'netmap'].some((flag) =>
    JSON.stringify([body['flags'] ?? null, body['type_flags'] ?? null]).includes(flag),
  );
  return {
    do: 'translate',
    side,
    family,
    target: {
      addresses: target.addresses,
      ports: ports ?? target.ports,
      prefix: oneToOne ? (target.prefix ?? null) : null,
    },
  };
}

/** An address, a range, a prefix, or an address with a port. */
function targetOf(value: Json): TranslationTarget {
  if (isObject(value) && Array.isArray(value['concat'])) {
    const [addr, port] = value['concat'] as Json[];
    return { addresses: targetOf(addr!).addresses, ports: portsOf(port) };
  }
  if (isObject(value) && Array.isArray(value['range'])) {
    const [first, last] = (value['range'] as Json[]).map((end) => parseAddress(String(end)));
    if (first && last) return { addresses: { first, last }, ports: null };
  }
  if (isObject(value) && isObject(value['prefix'])) {
    const p = parsePrefix(`${String(value['prefix']['addr'])}/${String(value['prefix']['len'])}`);
    if (p) {
      const { first, last } = prefixInterval(p);
      return {
        addresses: { first: { family: p.family, bits: first }, last: { family: p.family, bits: last } },
        ports: null,
        prefix: p,
      };
    }
  }
  const at = typeof value === 'string' ? parseAddress(value) : null;
  if (at) return { addresses: { first: at, last: at }, ports: null };
  throw new Unmodelled(`the translation target ${JSON.stringify(value)}`);
}

function portsOf(value: Json | undefined): TranslationTarget['ports'] {
  if (value === undefined || value === null) return null;
  const set = valuesFor({ of: 'dport', protocol: null }, value);
  const part = set.type === 'numbers' ? set.set[0] : undefined;
  if (!part || (set.type === 'numbers' && set.set.length !== 1))
    throw new Unmodelled(`the translated port ${JSON.stringify(value)}`);
  return { first: part.first, last: part.last, base: null };
}

function redirect(port: Json | undefined, context: TableContext): Step {
  if (isObject(port) && isObject(port['map']))
    throw new Unmodelled(`a redirection by map in table family ${context.family}`);
  return { do: 'redirect', ports: portsOf(port) };
}

/**
 * Marks are followed; header bytes that do not decide the way are let be; rewritten addresses and ports are
 * not modelled.
 */
function mangle(body: JsonObject, context: TableContext): Step[] {
  const key = body['key'] as Json;
  if (isObject(key)) {
    const on = markName(key);
    if (on) return [{ do: 'set-mark', on, ...markExpression(body['value'] as Json, on, context) }];
    if (
      isObject(key['payload']) &&
      ['saddr', 'daddr', 'sport', 'dport'].includes(String(key['payload']['field']))
    )
      throw new Unmodelled('a rewritten header field');
    if (isObject(key['ct']) && key['ct']['key'] === 'zone')
      throw new Unmodelled('a connection tracking zone');
  }
  return [{ do: 'note', what: 'mangle' }];
}

function markName(key: Json): MarkName | null {
  if (isObject(key) && isObject(key['meta']) && key['meta']['key'] === 'mark') return 'mark';
  if (isObject(key) && isObject(key['ct']) && key['ct']['key'] === 'mark') return 'ct-mark';
  return null;
}

interface MarkExpression {
  readonly from: MarkName;
  readonly keep: number;
  readonly flip: number;
}

/** Any chain of and, or, xor with constants over one mark is `(mark & keep) ^ flip`. */
function markExpression(value: Json, on: MarkName, context: TableContext): MarkExpression {
  if (typeof value === 'number') return { from: on, keep: 0, flip: value };
  const name = markName(value);
  if (name) return { from: name, keep: 0xffff_ffff, flip: 0 };
  if (isObject(value)) {
    const [op] = Object.keys(value);
    const parts = value[op!];
    if (Array.isArray(parts) && parts.length === 2) {
      const [left, right] = (typeof parts[0] === 'number' ? [parts[1], parts[0]] : parts) as [Json, Json];
      const e = markExpression(left, on, context);
      const c = typeof right === 'number' ? right : null;
      if (c !== null && op === '&')
        return { from: e.from, keep: (e.keep & c) >>> 0, flip: (e.flip & c) >>> 0 };
      if (c !== null && op === '^') return { from: e.from, keep: e.keep, flip: (e.flip ^ c) >>> 0 };
      if (c !== null && op === '|')
        return { from: e.from, keep: (e.keep & ~c) >>> 0, flip: ((e.flip & ~c) | c) >>> 0 };
    }
  }
  throw new Unmodelled('the value of a mark');
}
