/** What an address is for, as far as being reached from the internet is concerned. */
export type AddressKind =
  | 'public'
  | 'private'
  | 'shared'
  | 'link-local'
  | 'loopback'
  | 'documentation'
  | 'unspecified'
  | 'this-network'
  | 'ds-lite'
  | 'protocol'
  | 'nat64'
  | '6to4'
  | 'teredo'
  | 'unique-local'
  | 'mapped'
  | 'discard'
  | 'benchmarking'
  | 'as112'
  | 'amt'
  | 'multicast'
  | 'reserved'
  | 'broadcast'
  | 'site-local'
  | 'dummy'
  | 'segment-routing';

/** One row of an IANA special-purpose registry. */
export interface KindRow {
  readonly block: string;
  readonly kind: AddressKind;
  /** The name that the registry gives the block. */
  readonly name: string;
  readonly rfc: string;
  /** Whether packets to it from elsewhere on the internet can arrive at its holder ("globally reachable"). */
  readonly reachable: boolean;
}
