import type { ForwardRowSettings } from '../forwardTable/settings.ts';

/** What is known of the carrier's own network. */
export interface CarrierSettings {
  readonly kind: 'carrier';
  /** What kind of IPv4 the customer has. Missing: as the addresses tell. */
  readonly ipv4?: 'own' | 'shared' | 'none';
  /** The public addresses that the carrier's translator shares between customers. */
  readonly sharedAddresses?: readonly string[];
  /** Ports on which nothing is let in to customers. */
  readonly blocked?: readonly {
    readonly protocol: 'tcp' | 'udp' | 'both';
    readonly ports: string | number;
  }[];
  /**
   * A protection that drops unsolicited traffic: always, only after a while, or unless a client was approved.
   */
  readonly shield?: {
    readonly when: 'always' | 'after-a-while' | 'per-client';
    readonly approved?: readonly string[];
  };
  /** Forwards that the carrier's portal holds for the customer's gateway. */
  readonly portal?: readonly ForwardRowSettings[];
}
