import { dig, host } from './dns.ts';
import { forwardTable } from './forwardTable.ts';
import { ipAddr } from './ipAddr.ts';
import { ipAddrJson, ipNeighJson, ipRouteJson, ipRuleJson } from './ipJson.ts';
import { ipRoute } from './ipRoute.ts';
import { iptablesSave } from './iptablesSave.ts';
import { labelled } from './labelled.ts';
import { dnsmasqLeases } from './leases.ts';
import { nftJson } from './nftJson.ts';
import { nftText } from './nftText/index.ts';
import type { Reader } from './reader.ts';
import { ss } from './ss.ts';
import { sysctl } from './sysctl.ts';

/** All readers. Order matters only between equally sure ones: the earlier wins. */
export const READERS: readonly Reader[] = [
  nftJson, nftText, iptablesSave, ipNeighJson, ipAddrJson, ipRuleJson, ipRouteJson, ipAddr, ipRoute, ss, sysctl, dnsmasqLeases, dig, host, forwardTable, labelled,
];
