import { captureListing } from './captures/listing.ts';
import { allowList } from './gateways/allowList.ts';
import { bsdFilter } from './bsd/bsdFilter.ts';
import { connectionTry, toolError } from './tries/connectionTries.ts';
import { conntrack, conntrackXml } from './linux/conntrack.ts';
import { dig, digShort, host, nslookup } from './names/dns.ts';
import { containerPorts, firewalld, nftTables, ufwStatus } from './linux/frontEnds.ts';
import { netsh } from './windows/hostFirewall.ts';
import { ifconfig } from './unix/ifconfig.ts';
import { ipAddr } from './linux/ipAddr.ts';
import { ipAddrJson, ipNeighJson, ipRouteJson, ipRuleJson } from './linux/ipJson.ts';
import { ipBrief, ipOneline } from './linux/ipBrief.ts';
import { ipNeigh, ipRouteGet, ipRule } from './linux/ipRule.ts';
import { ipRoute } from './linux/ipRoute.ts';
import { iptablesCommands, iptablesList } from './linux/iptablesList.ts';
import { iptablesSave } from './linux/iptablesSave.ts';
import { labelled } from './gateways/labelled.ts';
import { dhcpClient, dnsmasqLog, iscLeases, keaLeases } from './gateways/leaseLogs.ts';
import { dnsmasqLeases } from './gateways/leases.ts';
import {
  deviceDescription,
  igdClient,
  mappingFile,
  natPmpClient,
  soapAnswer,
  ssdpAnswer,
  stunClient,
} from './gateways/mappings.ts';
import { lsof } from './unix/lsof.ts';
import { netstat } from './unix/netstat.ts';
import { nftJson } from './linux/nftJson.ts';
import { nftText } from './linux/nftText/index.ts';
import { outsideTest } from './tries/outsideTest.ts';
import { packetLog } from './logs/packetLog.ts';
import { pathTrace, ping } from './tries/paths.ts';
import type { Reader } from './reader.ts';
import { hosts, resolvConf } from './names/resolvConf.ts';
import { routeTable } from './unix/routeTable.ts';
import {
  mariadbConf,
  nginxConf,
  pgHba,
  postgresqlConf,
  programConfig,
  psqlTable,
  redisConf,
} from './programs/serverConfigs.ts';
import { ss } from './linux/ss.ts';
import { sysctl } from './linux/sysctl.ts';
import { deviceTable, forwardTable, ruleTable } from './tables/index.ts';
import { cmdlets, ipconfig, routePrint } from './windows/windows.ts';

/** All readers. Order matters only between equally sure ones: the earlier wins. */
export const READERS: readonly Reader[] = [
  nftJson,
  nftText,
  nftTables,
  iptablesSave,
  iptablesCommands,
  iptablesList,
  ufwStatus,
  firewalld,
  containerPorts,
  ipNeighJson,
  ipAddrJson,
  ipRuleJson,
  ipRouteJson,
  ipAddr,
  ifconfig,
  ipBrief,
  ipOneline,
  ipRule,
  ipNeigh,
  ipRouteGet,
  ipRoute,
  routeTable,
  ipconfig,
  routePrint,
  netsh,
  cmdlets,
  bsdFilter,
  packetLog,
  captureListing,
  conntrackXml,
  conntrack,
  netstat,
  lsof,
  ss,
  sysctl,
  resolvConf,
  hosts,
  dnsmasqLeases,
  dnsmasqLog,
  iscLeases,
  keaLeases,
  dhcpClient,
  dig,
  host,
  nslookup,
  digShort,
  pathTrace,
  ping,
  connectionTry,
  outsideTest,
  igdClient,
  natPmpClient,
  mappingFile,
  deviceDescription,
  soapAnswer,
  ssdpAnswer,
  stunClient,
  postgresqlConf,
  pgHba,
  mariadbConf,
  redisConf,
  nginxConf,
  psqlTable,
  allowList,
  ruleTable,
  deviceTable,
  forwardTable,
  labelled,
  programConfig,
  toolError,
];
