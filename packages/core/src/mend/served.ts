import type { Address, Transport } from '../net/index.ts';

/** The service whose packet ended, as it was dialled. */
export interface Served {
  readonly transport: Transport;
  readonly port: number;
}

/** Where a forward should lead: the next gateway inwards, or the server. */
export interface Target {
  readonly stop: string;
  readonly isGateway: boolean;
  readonly address: Address;
}
