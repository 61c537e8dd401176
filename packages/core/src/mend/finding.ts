import type { Shell } from '../asks/index.ts';
import type { Commands } from '../devices/index.ts';
import type { Address, Endpoint, Prefix, Transport } from '../net/index.ts';
import type { Socket } from '../site/index.ts';
import type { Served } from './served.ts';
import type { RowFinding } from './rowFindings.ts';
import type { RuleFinding } from './ruleFindings.ts';

/** What was found wrong, with the values that mend it. The sentences are in `words/`. */
export type Finding =
  | RowFinding
  | RuleFinding
  | {
      readonly found: 'no-link';
      readonly interface: string;
      /** Whose shell its commands are for; null: not known. */
      readonly system: Shell | null;
      /** Whether somebody has switched it off; else nothing is connected. */
      readonly isOff: boolean;
    }
  | {
      readonly found: 'hairpin';
      readonly served: Served;
      /** The outside address that an inside client dialled, and where it is forwarded to. */
      readonly dialled: Address;
      readonly to: Endpoint;
    }
  | {
      /** A packet filter turns inside callers round: translates them, and leaves behind its own address. */
      readonly found: 'turn-round';
      readonly served: Served;
      readonly dialled: Address;
      readonly to: Endpoint;
      /** The inside network that is turned round. */
      readonly from: Prefix;
      readonly rules: readonly string[];
      readonly written: Commands;
    }
  | {
      readonly found: 'listener';
      readonly how: 'loopback' | 'address' | 'family' | 'protocol' | 'none';
      readonly endpoint: Endpoint;
      readonly transport: Transport;
      /** The socket that comes nearest; null where nothing does. */
      readonly near: Socket | null;
      readonly system: Shell | null;
      readonly service: string | null;
    }
  | {
      readonly found: 'setting';
      readonly key: string;
      readonly now: string;
      readonly mended: string;
      /** Set where the reverse-path check drops; null: forwarding is off. */
      readonly dropped: { readonly address: Address; readonly interface: string } | null;
      readonly system: Shell | null;
    }
  | {
      readonly found: 'announces';
      /** Where the program sends its clients after its first answer; the port where somebody saw it. */
      readonly now: Address;
      readonly port: number | null;
      /** What the client dialled. */
      readonly mended: Address;
      /** The setting that says so; null: not known */
      readonly key: string | null;
      readonly dataPorts: { readonly first: number; readonly last: number } | null;
    }
  | {
      readonly found: 'no-default-gateway';
      readonly via: Address;
      readonly device: string;
      readonly system: Shell | null;
    }
  | {
      readonly found: 'record';
      readonly name: string;
      readonly type: string;
      readonly now: Address;
      readonly mended: Address;
    }
  | { readonly found: 'dialled'; readonly now: Address; readonly mended: Address }
  | {
      readonly found: 'shared-address';
      readonly gateway: string;
      readonly wan: Address | null;
      readonly shared: Address;
      /** Whether the internet showed the shared address, or only the client dials it. */
      readonly isSeen: boolean;
    };
