export { compileIptables } from './iptables/compile.ts';
export type { IptablesRule, IptablesTable } from './iptables/tables.ts';
export { compileNft } from './nft/compile.ts';
export { isObject, type Json, type JsonObject, type NftFamily, type NftObject } from './nft/objects.ts';
export { compileForwardTable, rowText, sourcePrefixes, type ForwardRow } from './forwardTable/compile.ts';
