import type { DeviceInterface } from '../line.ts';

/** Protocol and destination ports of a named service. */
export interface ServicePorts {
  readonly protocol: 'tcp' | 'udp' | 'both' | 'any';
  /** Missing: all ports. */
  readonly ports?: string | number;
}

export type ZoneTranslation =
  /**
   * Everything for an outside address goes to one inside address; two-way: that inside machine also leaves
   * behind it.
   */
  | {
      readonly type: 'one-to-one';
      readonly name?: string;
      readonly outside: string;
      readonly inside: string;
      readonly twoWay: boolean;
      readonly enabled?: boolean;
    }
  | {
      readonly type: 'port-forward';
      readonly name?: string;
      /** The zone that it is bound to; missing: any. */
      readonly fromZone?: string;
      /** An address, or the name of an interface for whatever address it has. */
      readonly outside: string;
      readonly protocol: 'tcp' | 'udp' | 'both';
      readonly ports: string | number;
      readonly to: string;
      readonly toPort?: number;
      readonly sources?: readonly string[];
      readonly enabled?: boolean;
    }
  /** Source translation of what goes from one zone to another. */
  | {
      readonly type: 'source';
      readonly name?: string;
      readonly fromZone: string;
      readonly toZone: string;
      readonly sources?: readonly string[];
      /** An address, or the name of an interface. */ readonly to: string;
      readonly enabled?: boolean;
    };

export interface ZoneRule {
  readonly name?: string;
  readonly action: 'allow' | 'drop' | 'reject';
  /** Zone names; missing: any. */
  readonly fromZone?: string;
  readonly toZone?: string;
  /** Addresses, prefixes or names from `names`; missing: any. */
  readonly sources?: readonly string[];
  readonly destinations?: readonly string[];
  /** Names from `services`, or `tcp/8214`, `udp/28410-28415`; missing: any. */
  readonly services?: readonly string[];
  readonly enabled?: boolean;
}

/** A firewall with zones: a table of translations and an ordered table of filter rules. */
export interface ZoneFirewallSettings {
  readonly kind: 'zone-firewall';
  readonly interfaces: readonly DeviceInterface[];
  /** Further outside addresses that it answers for, without an interface holding them. */
  readonly extraAddresses?: readonly string[];
  readonly names?: Readonly<Record<string, readonly string[]>>;
  readonly services?: Readonly<Record<string, readonly ServicePorts[]>>;
  readonly translations: readonly ZoneTranslation[];
  readonly rules: readonly ZoneRule[];
  /** What becomes of a packet that no rule names. */
  readonly otherwise: 'drop' | 'reject' | 'allow';
  /** Whether filter rules name the destination address before or after translation. Missing: not known. */
  readonly destinationSeen?: 'before' | 'after';
  /**
   * Whether the destination's zone is that of the address before or after translation. Missing: not known.
   */
  readonly zoneSeen?: 'before' | 'after';
  readonly ownPorts?: readonly { readonly protocol: 'tcp' | 'udp'; readonly ports: string | number }[];
  /** With several outside lines: the line by which an answer leaves. Missing: not known. */
  readonly answersBy?: 'same-line' | 'default-line';
}
