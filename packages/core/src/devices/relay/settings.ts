/** A port that the relay leases to a customer. */
export interface RelayLease {
  readonly protocol: 'tcp' | 'udp' | 'both';
  readonly port: number;
  /** The customer's address in the tunnel. */
  readonly to: string;
  readonly toPort?: number;
  /** RFC 3339: when the lease ends; missing: it does not. */
  readonly until?: string;
}

/** The far end of a tunnel, with ports that it leases. */
export interface RelaySettings {
  readonly kind: 'relay';
  readonly address: string;
  /** The relay's own address in the tunnel, with the prefix of the tunnel's network. */
  readonly tunnelAddress: string;
  readonly leases: readonly RelayLease[];
  /** Whether the server sees the relay's tunnel address instead of the client's. Missing: not known. */
  readonly hidesClient?: boolean;
  /** RFC 3339: when this was looked up. */
  readonly at?: string;
}
