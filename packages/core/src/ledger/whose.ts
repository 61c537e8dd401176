/** Why a piece of evidence is taken to be from a stop, as data; the sentence is in `words/placing.ts`. */
export type Whose =
  | {
      readonly by:
        | 'forward-table'
        | 'zone-page'
        | 'portal'
        | 'leases'
        | 'lookup'
        | 'status-page'
        | 'mappings'
        | 'outside';
    }
  | { readonly by: 'program' | 'own-firewall' | 'perimeter' | 'only-machine' | 'translates' | 'guards' }
  | { readonly by: 'listeners' | 'nothing' | 'notice' | 'own-settings' }
  | { readonly by: 'names'; readonly what: 'server' | 'client' }
  | { readonly by: 'page'; readonly label: string }
  | { readonly by: 'forwarding'; readonly on: boolean }
  | { readonly by: 'inside-network' | 'holds' | 'default-gateway-of-other'; readonly address: string }
  | { readonly by: 'forward-target' | 'dialled' | 'gateway-is-inside-address'; readonly address: string }
  | {
      readonly by: 'outside-kind' | 'address-kind';
      readonly address: string;
      readonly reachable: boolean;
    }
  | { readonly by: 'packets' | 'log'; readonly to: string }
  | {
      readonly by: 'address-of';
      readonly what: 'client' | 'server' | 'gateway';
      readonly address: string;
    }
  | { readonly by: 'same-address'; readonly address: string; readonly stop: string }
  | { readonly by: 'listener'; readonly program: string | null; readonly port: number }
  | { readonly by: 'gateway-in-network'; readonly stop: string }
  /** A prompt names the machine that another piece, or the stop's own name, is of. */
  | { readonly by: 'prompt'; readonly host: string }
  | { readonly by: 'gateway-kind'; readonly reachable: boolean };

export interface Vote {
  readonly stop: string;
  readonly weight: number;
  readonly why: Whose;
}
