import type { Rule, Step } from '../rules/index.ts';
import { serverOf, type MendContext } from './context.ts';
import {
  type AddressSet,
  addressUnion,
  hasAddress,
  type PortSet,
  portSet,
  sameAddress,
  type Address,
} from '../net/index.ts';

export type Part = 'protocol' | 'port' | 'source' | 'address' | 'line';

export type Match = Extract<Step, { do: 'match' }>;

export const isTranslation = (s: Step): boolean => s.do === 'translate' && s.side === 'destination';

export const isOfService = (steps: readonly Step[], { facts }: MendContext): boolean => {
  const endpoints = facts.document.service?.endpoints ?? [];
  return steps.some(
    (s) =>
      s.do === 'match' &&
      s.fields[0]?.of === 'dport' &&
      endpoints.some((e) => portsOf(s).some((p) => p.first <= (e.portEnd ?? e.port) && p.last >= e.port)),
  );
};

export const addressesOf = (step: Match): AddressSet =>
  addressUnion(...step.rows.flatMap(([v]) => (v?.type === 'addresses' ? [v.set] : [])));

export const portsOf = (step: Match): PortSet =>
  portSet(...step.rows.flatMap(([v]) => (v?.type === 'numbers' ? [...v.set] : [])));

export const holdsNumber = (step: Match, n: number): boolean =>
  step.rows.some(([v]) => v?.type === 'numbers' && v.set.some((i) => n >= i.first && n <= i.last));

export const holdsAddress = (step: Match, a: Address): boolean => hasAddress(addressesOf(step), a);

export function leadsTo({ steps }: Rule, to: Address | null, c: MendContext): boolean {
  const found = steps.find((s) => s.do === 'translate');
  if (found?.do !== 'translate' || !('addresses' in found.target)) return false;
  const { addresses, ports } = found.target;
  const server = serverOf(c)?.address;
  // Where nobody knows the server, its port tells: a gateway further in may filter and not translate.
  const isUnknown = server === undefined && ports !== null;
  const isRight = (a: Address): boolean =>
    isUnknown || [to, server].some((own) => own && sameAddress(a, own));
  if (!addresses || !isRight(addresses.first)) return false;
  const wanted = c.scene.packet.destination.port;
  // Without ports of its own it keeps the port that it takes: then it is for a neighbour in the same range.
  return ports ? wanted >= ports.first && wanted <= ports.last : isOfService(steps, c);
}
