import type { Role } from '../site/index.ts';

/** How the stops of a case are called in sentences. */
export type StopNames = (id: string | null) => string;

/** What a stop is called that nobody gave a name. */
export const ROLE_NAMES: Readonly<Record<Role, string>> = {
  client: 'Client',
  carrier: 'Carrier',
  edge: 'Cloud perimeter',
  gateway: 'Gateway',
  relay: 'Relay',
  host: 'Server',
};

/** What stops are by kind; a name that ends in one of these is a description and takes an article. */
const KINDS: ReadonlySet<string> = new Set([
  ...['client', 'carrier', 'perimeter', 'gateway', 'relay', 'server', 'network', 'router', 'firewall'],
  ...['machine', 'modem', 'container', 'switch', 'segment', 'internet', 'portal', 'host', 'box'],
]);

/**
 * A name in the middle of a sentence: `Second gateway` → `the second gateway`; names of their own (`Heron`,
 * `North Hall`) keep their letters and take no article.
 */
export function inSentence(name: string): string {
  if (!/^[A-Z]?[a-z]+( [a-z]+)*$/.test(name)) return name;
  const kind = name.slice(name.lastIndexOf(' ') + 1).toLowerCase();
  return KINDS.has(kind) ? `the ${name.charAt(0).toLowerCase()}${name.slice(1)}` : name;
}
