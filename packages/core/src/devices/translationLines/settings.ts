import type { DeviceInterface } from '../line.ts';

export type TranslationLine =
  /** One port of an outside address goes to one port of an inside machine. */
  | {
      readonly type: 'port';
      readonly protocol: 'tcp' | 'udp';
      /** An address, or the name of an interface. */ readonly outside: string;
      readonly outsidePort: number;
      readonly inside: string;
      readonly insidePort: number;
    }
  /** A whole outside address belongs to one inside machine, both ways. */
  | { readonly type: 'address'; readonly outside: string; readonly inside: string }
  /** Inside machines leave behind the address of the outside interface. */
  | { readonly type: 'many'; readonly sources?: readonly string[] };

/** A router that only translates: no filter stands in the way of what it can route. */
export interface TranslationLinesSettings {
  readonly kind: 'translation-lines';
  readonly interfaces: readonly DeviceInterface[];
  readonly lines: readonly TranslationLine[];
  /** Prefixes routed to it from outside, from which mappings take their outside addresses. */
  readonly outsidePrefixes?: readonly string[];
  /** Ports that the router answers on itself; missing: not known. */
  readonly ownPorts?: readonly { readonly protocol: 'tcp' | 'udp'; readonly ports: string | number }[];
}
