import type { CaseFacts } from '../../ledger/index.ts';
import { ADDRESS_LENGTH, addressSet, parsePrefix, toPrefixes, type AddressSet } from '../../net/index.ts';
import type { TooOpen } from '../../words/index.ts';

/** Ports of remote administration and file shares, by what people call them (IANA service names). */
const ADMINISTRATION: Readonly<Record<number, string>> = {
  22: 'a remote shell',
  23: 'a remote terminal in the clear',
  135: 'remote administration of Windows',
  445: 'file sharing of Windows',
  3389: 'a remote desktop',
  5900: 'a remote desktop',
  5985: 'remote administration of Windows',
  5986: 'remote administration of Windows',
};
const DATABASES: ReadonlySet<number> = new Set([1433, 1521, 3306, 5432, 6379, 9200, 27_017]);

/** What makes a port that is open to everyone grave; null: nothing that is known of it. */
export function graveness(port: number): TooOpen | null {
  const what = ADMINISTRATION[port];
  if (what !== undefined) return { open: 'administration', what, port };
  return DATABASES.has(port) ? { open: 'database', port } : null;
}

/** Whom the service is meant for; null: nobody has said. */
export function audienceOf({ document }: CaseFacts): AddressSet | 'anyone' | null {
  const said = document.service?.audience;
  if (said === 'anyone') return 'anyone';
  const list = Array.isArray(said) ? (said as readonly string[]).flatMap((t) => parsePrefix(t) ?? []) : [];
  return list.length > 0 ? addressSet(...list) : null;
}

/** How many addresses a set holds; beyond 2⁵³ rounded. */
export const sizeOf = (set: AddressSet): number =>
  toPrefixes(set).reduce((n, p) => n + 2 ** (ADDRESS_LENGTH[p.family] - p.length), 0);
