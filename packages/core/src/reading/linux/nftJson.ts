import {
  isObject,
  type Json,
  type JsonObject,
  type NftFamily,
  type NftObject,
  describeRule,
} from '../../devices/index.ts';
import type { Problem, Reading } from '../../facts/index.ts';
import type { Span } from '../../place/index.ts';
import { parsePlacedJson } from '../json.ts';
import type { Reader } from '../reader.ts';

/** `nft -j list ruleset` (libnftables-json(5)). */
export const nftJson: Reader = {
  format: 'nft-json',
  title: 'firewall rules (nft -j list ruleset)',
  recognise: (text) => (/^\s*\{\s*"nftables"\s*:/.test(text) ? 0.99 : 0),
  read(text): Reading {
    const parsed = parsePlacedJson(text, 'nftables');
    if (!parsed || !isObject(parsed.value) || !Array.isArray(parsed.value['nftables'])) {
      return {
        format: 'nft-json',
        facts: [],
        problems: [
          {
            line: 1,
            text: text.slice(0, 200),
            why: 'json-cut',
          },
        ],
        covers: [],
      };
    }
    const objects: NftObject[] = [];
    const problems: Problem[] = [];
    for (const { value, at } of parsed.elements) {
      const object = isObject(value) ? nftObject(value, at) : null;
      if (object === 'skip') continue;
      if (object) objects.push(object);
      else
        problems.push({
          line: at.line,
          text: JSON.stringify(value).slice(0, 200),
          why: 'nft-object',
        });
    }
    return {
      format: 'nft-json',
      facts: [{ kind: 'nft', at: { line: 1 }, objects }],
      problems,
      covers: ['rules4', 'rules6'],
    };
  },
};

const list = (value: Json | undefined): Json[] => {
  if (Array.isArray(value)) return value as Json[];
  return value === undefined || value === null ? [] : [value];
};

function nftObject(value: JsonObject, at: Span): NftObject | 'skip' | null {
  const [is] = Object.keys(value);
  const body = is === undefined ? undefined : value[is];
  if (is === 'metainfo') return 'skip';
  if (!isObject(body)) return null;
  const family = String(body['family']) as NftFamily;
  const table = String(body['table']);
  const name = String(body['name']);
  switch (is) {
    case 'table':
      return { is, at, family, name, dormant: list(body['flags']).includes('dormant') };
    case 'chain': {
      const hook = body['hook'];
      const base =
        hook === undefined
          ? null
          : {
              type: String(body['type']),
              hook: String(hook),
              priority: Number(body['prio']),
              policy: body['policy'] === 'drop' ? ('drop' as const) : ('accept' as const),
              device: body['dev'] === undefined ? null : String(body['dev']),
            };
      return { is, at, family, table, name, base };
    }
    case 'rule': {
      const steps = list(body['expr']);
      const counter = steps.find((s): s is JsonObject => isObject(s) && isObject(s['counter']))?.['counter'];
      return {
        is,
        at,
        family,
        table,
        chain: String(body['chain']),
        steps,
        text: describeRule(steps),
        ...(typeof body['handle'] === 'number' ? { handle: body['handle'] } : {}),
        ...(isObject(counter)
          ? { counted: { packets: Number(counter['packets']), bytes: Number(counter['bytes']) } }
          : {}),
      };
    }
    case 'set':
    case 'map':
      return {
        is,
        at,
        family,
        table,
        name,
        elements: list(body['elem']),
        flags: list(body['flags']).map(String),
      };
    default:
      return { is: 'other', at, what: is!, family, table, name };
  }
}
