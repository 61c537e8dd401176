import type { Symptom } from '../case/index.ts';

export const SYMPTOM_WORDS: readonly (readonly [Symptom, RegExp])[] = [
  [
    'name-unknown',
    /unknown host|no such host|name (not|could not)|cannot resolve|can't resolve|nxdomain|server not found/i,
  ],
  ['refused', /refus|reset|rejected|closed/i],
  [
    'connects-then-fails',
    new RegExp(
      String.raw`connects? (and|but|then)|\bwork(?:s|ed)\b.{0,40}\bthen\b|logs? in|` +
        String.raw`drops? (out|after)|kicked|then (fails|disconnects)|authentication`,
      'i',
    ),
  ],
  ['sometimes', /sometimes|now and then|intermittent|on and off|every few/i],
  [
    'lost',
    new RegExp(
      String.raw`times? ?out|timeout|timed out|nothing happens|hangs?|no (answer|response|reply)|` +
        String.raw`silence|forever|waits?|unreachable|can('|no)t (connect|join|reach|get)`,
      'i',
    ),
  ],
];

/** `8100/tcp`, `40000-40010/udp`: number and protocol joined. */
export const JOINED =
  /(?<![\d.:])(\d{1,5}(?:[-–]\d{1,5})?)\s?\/\s?(tcp|udp)\b(?!\s?(?:\/|and|\+|&)\s?(?:tcp|udp)\b(?!\s*\d))/gi;
/** A port of which nobody says whether it is TCP or UDP: `port 8214`, `on 8214`, else a number by itself. */
export const PORT_WORD =
  /\b(?:ports?|on)\s+(\d{1,5})\b(?![.:]\d|\s*(?:jan|feb|mar|apr|may|jun|jul|aug|sep|oct|nov|dec))/i;
export const LONE = new RegExp(
  String.raw`(?<![\w.:/-])(\d{3,5})(?![\w.:/-]|` +
    String.raw`\s*(?:%|seconds?|secs?|minutes?|mins?|hours?|days?|times?(?!\s*out)|players?|people|` +
    String.raw`ms|km|am|pm|tries)\b)`,
  'i',
);

/** Services whose names people say instead of a port, as the registry of the IANA has them. */
export const NAMED: readonly (readonly [RegExp, 'tcp' | 'udp', number])[] = [
  [/\bs(?:sh|ftp)\b/i, 'tcp', 22],
  [/\bftp\b/i, 'tcp', 21],
  [/\btelnet\b/i, 'tcp', 23],
  [/\bhttps\b/i, 'tcp', 443],
  [/\bhttp\b/i, 'tcp', 80],
  [/\bimaps\b/i, 'tcp', 993],
  [/\bimap\b/i, 'tcp', 143],
  [/\bsmtp\b/i, 'tcp', 25],
  [/\b(?:postgres|postgresql)\b/i, 'tcp', 5432],
  [/\b(?:mysql|mariadb)\b/i, 'tcp', 3306],
  [/\bredis\b/i, 'tcp', 6379],
  [/\bmqtt\b/i, 'tcp', 1883],
  [/\brtsp\b/i, 'tcp', 554],
  [/\b(?:rdp|remote desktop)\b/i, 'tcp', 3389],
  [/\bvnc\b/i, 'tcp', 5900],
  [/\bntp\b/i, 'udp', 123],
  [/\bsnmp\b/i, 'udp', 161],
];

/** A whole number or range that is no part of an address. */
export const PORT =
  String.raw`(?<![\d.])\d{1,5}(?!\d|\.\d|:[\da-f])` + String.raw`(?:\s{0,3}[-–]\s{0,3}\d{1,5}(?!\d|\.\d))?`;

export const PORTS = new RegExp(
  String.raw`\b(tcp(?:\s*(?:\/|and|\+|&)\s*udp)?|udp(?:\s*(?:\/|and|\+|&)\s*tcp)?|both)\b[\s:,]*` +
    String.raw`(?:ports?\s*)?(${PORT}(?:\s*(?:,|and|\+|&)\s*${PORT})*)`,
  'gi',
);

export const PORTS_BEHIND = new RegExp(
  String.raw`\b(?:ports?\s+)?((?=\d\d)${PORT})\s{0,3}\/?\s{0,3}\(?(tcp\/udp|udp\/tcp|tcp|udp|both)\b`,
  'gi',
);

export const SENDER = /\b(?:from|client|caller|friend(?: is)?(?: at)?)\s+(\[?[0-9a-f:.]+\]?)/i;

/** `198.51.100.23 to 203.0.113.60:5432`: who dials, and what. */
export const FROM_TO =
  /(?<![\d.])((?:\d{1,3}\.){3}\d{1,3})\s*(?:to|→|->|=>|nach|vers|towards)\s+(?=\[?[a-z\d])/i;

/** Several ports with one word for all of them: `8101, 8102 both`. */
export const BOTH_BEHIND = /(?<![\d.:])(\d{1,5})\s+(?:both|on both)\b/gi;

export const SENTENCE = new RegExp(
  String.raw`\b(?:gets?|got|sees?|works?|worked|waits?|comes?|came|wants?|tr(?:y|ies|ied)|joins?|` +
    String.raw`be|are|was|were|has|have|had|do|does|did|can|cannot|can't|will|nothing|nobody|i|we|` +
    String.raw`they|he|she|it|since|inside|outside)\b`,
  'i',
);
/** Who calls is not what they call about. */
export const PEOPLE = new RegExp(
  String.raw`\b(?:strangers?|players?|visitors?|guests?|listeners?|everyone|everybody|people|` +
    String.raw`callers?|customers?|users?)\b`,
  'gi',
);

/** The first stretch of words that is no symptom, no filler and no sentence. */
