import { captureListing } from '../captures/listing.ts';
import { allowList } from './allowList.ts';
import { bsdFilter } from './bsdFilter.ts';
import { connectionTry, toolError } from './connectionTries.ts';
import { conntrack, conntrackXml } from './conntrack.ts';
import { dig, digShort, host, nslookup } from './dns.ts';
import { containerPorts, firewalld, nftTables, ufwStatus } from './frontEnds.ts';
import { netsh } from './hostFirewall.ts';
import { ifconfig } from './ifconfig.ts';
import { ipAddr } from './ipAddr.ts';
import { ipAddrJson, ipNeighJson, ipRouteJson, ipRuleJson } from './ipJson.ts';
import { ipBrief, ipOneline } from './ipBrief.ts';
import { ipNeigh, ipRouteGet, ipRule } from './ipRule.ts';
import { ipRoute } from './ipRoute.ts';
import { iptablesCommands, iptablesList } from './iptablesList.ts';
import { iptablesSave } from './iptablesSave.ts';
import { labelled } from './labelled.ts';
import { dhcpClient, dnsmasqLog, iscLeases, keaLeases } from './leaseLogs.ts';
import { dnsmasqLeases } from './leases.ts';
import { deviceDescription, igdClient, mappingFile, natPmpClient, soapAnswer, ssdpAnswer, stunClient } from './mappings.ts';
import { lsof } from './lsof.ts';
import { netstat } from './netstat.ts';
import { nftJson } from './nftJson.ts';
import { nftText } from './nftText/index.ts';
import { outsideTest } from './outsideTest.ts';
import { packetLog } from './packetLog.ts';
import { pathTrace, ping } from './paths.ts';
import type { Reader } from './reader.ts';
import { hosts, resolvConf } from './resolvConf.ts';
import { routeTable } from './routeTable.ts';
import { mariadbConf, nginxConf, pgHba, postgresqlConf, programConfig, psqlTable, redisConf } from './serverConfigs.ts';
import { ss } from './ss.ts';
import { sysctl } from './sysctl.ts';
import { deviceTable, forwardTable, ruleTable } from './tables/index.ts';
import { cmdlets, ipconfig, routePrint } from './windows.ts';

/** All readers. Order matters only between equally sure ones: the earlier wins. */
export const READERS: readonly Reader[] = [
  nftJson, nftText, nftTables, iptablesSave, iptablesCommands, iptablesList, ufwStatus, firewalld, containerPorts,
  ipNeighJson, ipAddrJson, ipRuleJson, ipRouteJson, ipAddr, ifconfig, ipBrief, ipOneline, ipRule, ipNeigh, ipRouteGet, ipRoute, routeTable,
  ipconfig, routePrint, netsh, cmdlets, bsdFilter,
  packetLog, captureListing, conntrackXml, conntrack, netstat, lsof, ss, sysctl, resolvConf, hosts,
  dnsmasqLeases, dnsmasqLog, iscLeases, keaLeases, dhcpClient,
  dig, host, nslookup, digShort, pathTrace, ping, connectionTry, outsideTest,
  igdClient, natPmpClient, mappingFile, deviceDescription, soapAnswer, ssdpAnswer, stunClient,
  postgresqlConf, pgHba, mariadbConf, redisConf, nginxConf, psqlTable,
  allowList, ruleTable, deviceTable, forwardTable, labelled, programConfig, toolError,
];
