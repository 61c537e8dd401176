import type { PortSet } from '../net/index.ts';
import type { Said } from './field.ts';

/** One service that a rule names: a protocol with its destination ports. */
export interface ServiceRecord {
  readonly protocol: 'tcp' | 'udp' | 'both' | 'any';
  /** null: all ports */
  readonly ports: PortSet | null;
}

/** A filter rule of a firewall with zones, as a table of its page shows it; names are as they are written. */
export interface ZoneRuleRecord {
  readonly name: string | null;
  readonly action: Said<'allow' | 'drop' | 'reject'>;
  /** null: any zone */
  readonly fromZone: Said<string | null>;
  readonly toZone: Said<string | null>;
  /** Addresses, prefixes and names; null: any. */
  readonly sources: Said<readonly string[] | null>;
  readonly destinations: Said<readonly string[] | null>;
  /** null: any; empty: other protocols than TCP and UDP alone. */
  readonly services: Said<readonly ServiceRecord[] | null>;
  readonly enabled: Said<boolean>;
  /** Whatever else the row asks for, as hours and users; null: nothing. */
  readonly further: Said<null>;
}

/** An outside address that as a whole is an inside one (RFC 2663 §4.1.1). */
export interface AddressMappingRecord {
  readonly name: string | null;
  readonly outside: Said<string>;
  readonly inside: Said<string>;
  /** Whether the inside machine leaves behind the outside address as well. */
  readonly twoWay: boolean;
  readonly enabled: Said<boolean>;
  readonly further: Said<null>;
}

/** An interface of a firewall with the zone that it belongs to. */
export interface ZoneLineRecord {
  readonly name: string;
  readonly zone: string;
  /** Addresses with their prefix lengths, where the page shows them. */
  readonly addresses: readonly string[];
  /** null: not said */
  readonly up: boolean | null;
}

/** A name that rules use for addresses. */
export interface NamedAddressRecord {
  readonly name: string;
  readonly members: readonly string[];
}

/** Whether filter rules see what they name before or after the destination translation. */
export interface FilterOrderRecord {
  readonly of: 'address' | 'zone';
  readonly seen: 'before' | 'after';
}
