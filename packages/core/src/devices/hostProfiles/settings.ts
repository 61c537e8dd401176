/** A row of the host firewall. */
export interface HostRow {
  readonly name?: string;
  readonly enabled?: boolean;
  readonly direction: 'in' | 'out';
  /** `allow-if-authenticated` lets in only what IPsec vouches for; an ordinary client is not. */
  readonly action: 'allow' | 'allow-if-authenticated' | 'block';
  /** Profile names; missing or `any`: all. */
  readonly profiles?: readonly string[];
  /** The program, by path or name; missing: any. */
  readonly program?: string;
  readonly protocol: 'tcp' | 'udp' | 'both' | 'any';
  readonly localPorts?: string | number;
  readonly remotePorts?: string | number;
  readonly localAddresses?: readonly string[];
  /** Prefixes, `any`, or `local-subnet`. */
  readonly remoteAddresses?: readonly string[];
  /** Why the row may not hold for every packet that it seems to name; missing: it does. */
  readonly perhaps?: string;
}

/** What a profile does. */
export interface ProfileManner {
  readonly on?: boolean;
  /** With a packet that no row names. */
  readonly in: 'block' | 'allow';
  readonly out: 'block' | 'allow';
  /** Whatever rows say, nothing comes in. */
  readonly blocksAll?: boolean;
  /** Rows made on the machine itself are not used: those of the group policy are, which nobody has listed. */
  readonly ignoresRows?: boolean;
}

/** A host firewall with network profiles: a block beats an allow, whatever their order. */
export interface HostProfilesSettings {
  readonly kind: 'host-profiles';
  /** The profile that is active now; missing: not known. */
  readonly active?: string;
  /** What each profile does with a packet that no row names. */
  readonly profiles: Readonly<Record<string, ProfileManner>>;
  readonly rows: readonly HostRow[];
  /**
   * Whether the firewall also holds back the reset that a port without a listener sends. Missing: not known.
   */
  readonly silentWhenClosed?: boolean;
}
