import { captureListing } from './captures/listing.ts';
import { allowList } from './gateways/allowList.ts';
import { bsdFilter } from './bsd/bsdFilter.ts';
import { connectionTry } from './tries/connectionTries.ts';
import { toolError } from './tries/toolError.ts';
import { conntrack, conntrackXml } from './linux/conntrack.ts';
import { dig, digShort, host } from './names/dns.ts';
import { nslookup } from './names/nslookup.ts';
import { firewalld } from './linux/firewalld.ts';
import { containerPorts, nftTables } from './linux/frontEnds.ts';
import { ufwStatus } from './linux/ufw.ts';
import { netsh } from './windows/netsh.ts';
import { applicationFirewall } from './unix/applicationFirewall.ts';
import { ifconfig } from './unix/ifconfig.ts';
import { ipAddr } from './linux/ipAddr.ts';
import { ipNeighJson } from './linux/ipJson.ts';
import { ipRuleJson } from './linux/ipRuleJson.ts';
import { ipRouteJson } from './linux/ipRouteJson.ts';
import { ipAddrJson } from './linux/ipAddrJson.ts';
import { ipBrief, ipOneline } from './linux/ipBrief.ts';
import { ipNeigh, ipRouteGet, ipRule } from './linux/ipRule.ts';
import { ipRoute } from './linux/ipRoute.ts';
import { iptablesCommands, iptablesList } from './linux/iptablesList.ts';
import { iptablesSave } from './linux/iptablesSave.ts';
import { labelled } from './gateways/labelled.ts';
import { dhcpClient, dnsmasqLog, iscLeases, keaLeases } from './gateways/leaseLogs.ts';
import { dnsmasqLeases } from './gateways/leases.ts';
import { igdClient, natPmpClient } from './gateways/mappings.ts';
import { stunClient } from './gateways/stunClient.ts';
import { deviceDescription, soapAnswer, ssdpAnswer } from './gateways/igdAnswers.ts';
import { notices } from './gateways/notices.ts';
import { mappingFile } from './gateways/mappingFile.ts';
import { lsof } from './unix/lsof.ts';
import { netstat } from './unix/netstat.ts';
import { nftJson } from './linux/nftJson.ts';
import { nftLines } from './linux/nftLines.ts';
import { nftText } from './linux/nftText/index.ts';
import { outsideTest } from './tries/outsideTest.ts';
import { packetLog } from './logs/packetLog.ts';
import { bsdLog } from './logs/bsdLog.ts';
import { flowLog } from './logs/flowLog.ts';
import { w3cLog } from './logs/w3cLog.ts';
import { pathTrace, ping } from './tries/paths.ts';
import type { Reader } from './reader.ts';
import { hosts, resolvConf } from './names/resolvConf.ts';
import { routeTable } from './unix/routeTable.ts';
import { arp } from './unix/arp.ts';
import { ownAddresses, resolverList, routeGet, tunnelStatus, unitSockets } from './unix/oneAnswer.ts';
import { sockstat } from './unix/sockstat.ts';
import { procNet } from './linux/procNet.ts';
import { composeFile } from './linux/containers.ts';
import { launchLine } from './programs/launch.ts';
import { answerRow, hostDatabase, resolvedQuery } from './names/lookups.ts';
import { excludedPorts, nothingFound } from './windows/statements.ts';
import { serverDialogue, transferConfig } from './programs/transfer.ts';
import { mariadbConf, pgHba, postgresqlConf, psqlTable, redisConf } from './programs/serverConfigs.ts';
import { programConfig } from './programs/programConfig.ts';
import { nginxConf } from './programs/nginx.ts';
import { ss } from './linux/ss.ts';
import { sysctl } from './linux/sysctl.ts';
import { deviceTable, forwardTable, ruleTable } from './tables/index.ts';
import { zonePage } from './zones/page.ts';
import { ipconfig, routePrint } from './windows/windows.ts';
import { cmdlets } from './windows/cmdlets.ts';

/** All readers. Order matters only between equally sure ones: the earlier wins. */
export const READERS: readonly Reader[] = [
  nftJson,
  nftText,
  nftLines,
  nftTables,
  iptablesSave,
  iptablesCommands,
  iptablesList,
  applicationFirewall,
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
  w3cLog,
  bsdLog,
  flowLog,
  packetLog,
  captureListing,
  conntrackXml,
  conntrack,
  netstat,
  lsof,
  ss,
  sockstat,
  procNet,
  arp,
  routeGet,
  resolverList,
  tunnelStatus,
  unitSockets,
  ownAddresses,
  composeFile,
  nothingFound,
  excludedPorts,
  answerRow,
  resolvedQuery,
  hostDatabase,
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
  transferConfig,
  serverDialogue,
  nginxConf,
  psqlTable,
  ruleTable,
  deviceTable,
  forwardTable,
  zonePage,
  allowList,
  labelled,
  notices,
  launchLine,
  programConfig,
  toolError,
];
