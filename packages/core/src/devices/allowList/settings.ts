/** One row of a list of what is let in. */
export interface AllowRow {
  readonly name?: string;
  readonly protocol: 'tcp' | 'udp' | 'both' | 'any';
  /** `5432`, `28410-28415`, `any` */
  readonly ports?: string | number;
  /** Prefixes, `any`, or `group:NAME` for the members of a group. */
  readonly sources: readonly string[];
  /** Why the row may not let in what it seems to; missing: it does. */
  readonly perhaps?: string;
}

/** One row of a subnet's stateless list: the first row that fits decides, in each direction. */
export interface SubnetRow {
  readonly number: number;
  readonly action: 'allow' | 'deny';
  readonly protocol: 'tcp' | 'udp' | 'both' | 'any';
  /** Destination ports, as the packet carries them. */
  readonly ports?: string | number;
  /** The other end: source of what comes in, destination of what goes out. */
  readonly peers?: readonly string[];
}

/**
 * The perimeter of a rented machine: stateful lists of what is let in, which add up; perhaps a stateless list
 * on its subnet.
 */
export interface AllowListSettings {
  readonly kind: 'allow-list';
  readonly lists: readonly { readonly name: string; readonly rows: readonly AllowRow[] }[];
  /** Members of groups, by address. */
  readonly groups?: Readonly<Record<string, readonly string[]>>;
  readonly subnetList?: { readonly in: readonly SubnetRow[]; readonly out: readonly SubnetRow[] };
  /**
   * The public address that the perimeter translates to the machine's inside address; `none`: it has no
   * public address. Missing: the machine holds its public address itself.
   */
  readonly publicAddress?: string;
  /** The machine's own address behind the perimeter, where `publicAddress` is given. */
  readonly insideAddress?: string;
}
