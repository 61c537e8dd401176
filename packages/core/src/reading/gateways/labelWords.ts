import type { LabelKind } from '../../facts/index.ts';

/** Labels of status pages by what they mean; the first hit wins, so the narrow ones stand first. */
export const LABELS: readonly (readonly [LabelKind, RegExp])[] = [
  [
    'seen-address',
    new RegExp(
      String.raw`\b(seen (from )?(outside|by the internet)|what ?is ?my|(?:my|your) (public )?ip|` +
        String.raw`internet sees|external test|reflexive|from outside)\b`,
      'i',
    ),
  ],
  [
    'previous-address',
    new RegExp(
      String.raw`\b(previous|former|formerly|old|last|earlier|vorherige[rs]?|letzte[rs]?|anterior|` +
        String.raw`ultim[oa])\b|pr[ée]c[ée]dent`,
      'i',
    ),
  ],
  [
    'other',
    new RegExp(
      String.raw`\b(mask|netmask|netzmaske|subnetzmaske|m[áa]scara|masque|broadcast|mac|pool|range|` +
        String.raw`dhcp (start|end|from|to))\b`,
      'i',
    ),
  ],
  [
    'default-gateway',
    new RegExp(
      String.raw`\b(default (gateway|route|router)|(wan|internet) gateway|gateway( ip| address)?$|` +
        String.raw`next hop|standard ?gateway|passerelle|puerta de enlace|^router$)\b`,
      'i',
    ),
  ],
  ['dns-server', /\b(dns|name ?server|resolver)\b/i],
  ['exposed-host', /\b(dmz|exposed|default (server|host)|standard ?server|bastion)\b/i],
  ['guest-address', /\b(guest|gast\w*|invit[ée]s?|invitados)\b/i],
  [
    'wan-address',
    new RegExp(
      String.raw`\b(wan\d*|internet|public|external|outside|uplink|provider|publique|publica|publico|` +
        String.raw`extern[ae]?|externo)\b|p[úu]blic[ao]|[öo]ffentlich`,
      'i',
    ),
  ],
  [
    'lan-address',
    new RegExp(
      String.raw`\b(lan\d*|local network|inside|router('s)? (own )?(ip|address)|home network|locale?|` +
        String.raw`heimnetz|lokale?)\b`,
      'i',
    ),
  ],
  ['server-address', /\b(server|host|machine|nas|box) ?(is|ip|address|'s)?\b/i],
  ['client-address', /\b(client|caller|friend|customer)\b/i],
];
export const KIND = new RegExp(
  String.raw`\b(connection|link|wan|internet) (type|kind|mode)\b|` +
    String.raw`\b(pppoe|ds-?lite|dhcp client|static ip|mobile)\b|verbindungstyp`,
  'i',
);
export const UPTIME = /\b(up ?time|connected (since|for)|connection time)\b/i;
/** A line that is not in use: what stands below it is not the present address. */
export const DOWN = new RegExp(
  String.raw`\b(not connected|disconnected|offline|no link|link down|no carrier|down|getrennt|` +
    String.raw`nicht verbunden|d[ée]connect[ée]|desconectado|scollegato|inactive|standby|backup)\b`,
  'i',
);
export const LINE_STATE = new RegExp(
  String.raw`\b(wan|internet|line|link|connection|uplink|dsl|verbindung|connexion)\b.{0,12}\b` +
    String.raw`(status|state|link)\b|^(status|state|link)$`,
  'i',
);
/** A kind of connection stands under the same label: only a word for its state at the beginning is one. */
export const CONNECTION = /^connection$/i;
export const STATE_FIRST = /^(?:up|down|online|offline|connected|disconnected|not connected|established)\b/i;
/** What pages call it where inside machines may dial the outside address. */
export const HAIRPIN =
  /\bhair ?pin(?:ning)?\b|\b(?:nat )?loopback\b|\bturn\w* (?:inside|inner)\b.{0,30}\b(?:round|back)\b/i;
export const ON_OFF =
  /^(?:yes|on|enabled?|active|true|ja|oui|s[íi]|no|off|disabled?|inactive|false|none|nein|non)$/i;
export const MANAGEMENT = new RegExp(
  String.raw`\b(remote (management|administration|admin|access|config\w*)|` +
    String.raw`web (management|access) (from|on) (wan|internet)|fernzugriff|fernwartung)\b`,
  'i',
);
/** Notes behind a value: it is not the present one. */
export const NOTE_LENGTH = 40;
export const NOTE_OLD = /^\s*\((last|previous|old|former|before|expired|not in use|inactive|down)\b/i;
