import { CLIENT, HOST, INSIDE, OTHER, WAN } from './places.ts';
import { OTHER_PORT, rulesOf, type Placed, type Statement, type Tables } from './statement.ts';

/** Chains and sets that statements name. */
export const NFT_BESIDE = `
 set allowed { type ipv4_addr; elements = { ${CLIENT}, ${INSIDE} } }
 set nets { type ipv4_addr; flags interval; elements = { 198.51.100.0/27, 192.168.50.70-192.168.50.79 } }
 set pairs { type ipv4_addr . inet_service; elements = { PAIRS } }
 set ports { type inet_service; flags interval; elements = { 20000-20005, 20030-20999 } }
 set six { type ipv6_addr; flags interval; elements = { 2001:db8:c1::/64 } }
 map verdicts { type ipv4_addr : verdict; elements = { ${CLIENT} : drop, ${INSIDE} : accept } }
 chain empty { }
 chain drops { drop; }
 chain passes { accept; }
 chain returning { ip saddr ${CLIENT} return; accept; }
 chain fromClient { ip saddr ${CLIENT} drop; }
 chain deep { ip saddr ${OTHER} jump drops; meta l4proto udp goto returning; }
`;

const chain = (name: string, head: string, rules: readonly string[]): string =>
  ` chain ${name} {\n  ${head}\n${rules.map((rule) => `  ${rule}\n`).join('')} }\n`;

/** The rule sets of gateway and server that hold these statements. */
export function nftTables(placed: readonly Placed[]): Tables {
  const of = (where: Statement['where']): string[] =>
    placed.filter((p) => p.where === where).flatMap(rulesOf);
  const pairs = placed.map((p) => `${CLIENT} . ${p.port}`).join(', ');
  const beside = NFT_BESIDE.replace('PAIRS', pairs);
  const range = `meta l4proto { tcp, udp } th dport 20000-20999`;
  const before = chain('prerouting', 'type nat hook prerouting priority dstnat; policy accept;', [
    ...of('prerouting'),
    `ip daddr ${WAN} ${range} dnat to ${HOST}`,
  ]);
  const after = chain('postrouting', 'type nat hook postrouting priority srcnat; policy accept;', [
    ...of('postrouting'),
    `ip saddr 192.168.50.0/24 ip daddr ${HOST} ${range} masquerade`,
    'oifname "wan0" masquerade',
  ]);
  const filter = (hook: string, rules: readonly string[]): string =>
    chain(hook, `type filter hook ${hook} priority filter; policy accept;`, rules);
  const early = chain('early', 'type filter hook prerouting priority raw; policy accept;', of('early'));
  return {
    gateway: {
      rules:
        `table ip nat {\n chain toHost { meta l4proto { tcp, udp } dnat to ${HOST}:${OTHER_PORT}; }\n` +
        `${before}${after}}\n` +
        `table inet lab {\n${beside}${early}${filter('forward', of('forward'))}}\n`,
    },
    host: { rules: `table inet lab {\n${beside}${filter('input', of('host'))}}\n` },
  };
}
