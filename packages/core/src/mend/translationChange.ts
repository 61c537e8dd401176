import type { RuleEdit } from '../devices/index.ts';
import {
  formatPrefix,
  portSet,
  formatPorts,
  type Header,
  PROTOCOL,
  addressUnion,
  addressSet,
  toPrefixes,
  ADDRESS_LENGTH,
  formatAddress,
} from '../net/index.ts';
import type { Rule, Step } from '../rules/index.ts';
import { type MendContext, audience } from './context.ts';
import { portsOf } from './translationParts.ts';
import { addressesOf } from './translationParts.ts';
import { isOfService } from './translationParts.ts';
import { type Match } from './translationParts.ts';
import { type Part } from './translationParts.ts';

export interface PartChange {
  readonly now: string;
  readonly mended: string;
  readonly edit: RuleEdit;
  readonly steps: (steps: readonly Step[]) => Step[];
}

export const isOn = (s: Step, of: string): s is Match =>
  s.do === 'match' && s.fields.length === 1 && s.fields[0]?.of === of;

export function withProtocol(step: Step, protocol: number): Step {
  if (step.do !== 'match' || step.fields.length !== 1) return step;
  const [field] = step.fields;
  if (field?.of === 'protocol')
    return { ...step, rows: [[{ type: 'numbers', set: [{ first: protocol, last: protocol }] }]] };
  if (field?.of === 'dport' && field.protocol !== null) return { ...step, fields: [{ ...field, protocol }] };
  return step;
}

export function changeOf(c: MendContext, rule: Rule, part: Part, packet: Header): PartChange {
  const { transport, destination } = packet;
  const first = (of: string): Match | undefined => rule.steps.find((s): s is Match => isOn(s, of));
  const without = (of: string) => (steps: readonly Step[]) => steps.filter((s) => !isOn(s, of));
  switch (part) {
    case 'protocol':
      return {
        now: transport === 'tcp' ? 'UDP' : 'TCP',
        mended: transport.toUpperCase(),
        edit: { edit: 'protocol', to: transport },
        steps: (steps) => steps.map((s) => withProtocol(s, PROTOCOL[transport])),
      };
    case 'port': {
      const now = first('dport');
      const old = now ? portsOf(now) : [];
      const ports = isOfService(rule.steps, c)
        ? portSet(...old, { first: destination.port, last: destination.port })
        : [{ first: destination.port, last: destination.port }];
      return {
        now: formatPorts(old),
        mended: formatPorts(ports),
        edit: { edit: 'port', to: ports },
        steps: (steps) =>
          steps.map((s) => (isOn(s, 'dport') ? { ...s, rows: [[{ type: 'numbers', set: ports }]] } : s)),
      };
    }
    case 'source': {
      const old = first('source');
      const wanted = audience(c);
      const set = wanted ? addressUnion(addressSet(...wanted), ...(old ? [addressesOf(old)] : [])) : null;
      const prefixes = set && toPrefixes(set);
      return {
        now: old ? toPrefixes(addressesOf(old)).map(formatPrefix).join(', ') : 'anyone',
        mended: prefixes ? prefixes.map(formatPrefix).join(', ') : 'anyone',
        edit: { edit: 'source', to: prefixes },
        steps: (steps) =>
          steps.flatMap((s): Step[] => {
            if (!isOn(s, 'source')) return [s];
            return set ? [{ ...s, rows: [[{ type: 'addresses', set }]] }] : [];
          }),
      };
    }
    case 'address': {
      const old = first('destination');
      const length = ADDRESS_LENGTH[destination.address.family];
      const set = addressSet({ ...destination.address, length });
      return {
        now: old ? toPrefixes(addressesOf(old)).map(formatPrefix).join(', ') : 'any',
        mended: formatAddress(destination.address),
        edit: { edit: 'address', to: destination.address },
        steps: (steps) =>
          steps.map((s) => (isOn(s, 'destination') ? { ...s, rows: [[{ type: 'addresses', set }]] } : s)),
      };
    }
    case 'line': {
      const old = first('in')?.rows.flatMap(([v]) => (v?.type === 'names' ? v.names : [])) ?? [];
      return { now: old.join(', '), mended: 'any line', edit: { edit: 'line' }, steps: without('in') };
    }
  }
}
