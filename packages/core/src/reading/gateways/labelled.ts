import { addressKind, parseAddress, parsePrefix } from '../../net/index.ts';
import type { LabelKind, LabelledFact, Problem } from '../../facts/index.ts';
import { linesOf, type Line } from '../text.ts';
import type { Reader } from '../reader.ts';

/** Labels of status pages by what they mean; the first hit wins, so the narrow ones stand first. */
const LABELS: readonly (readonly [LabelKind, RegExp])[] = [
  [
    'seen-address',
    /\b(seen (from )?(outside|by the internet)|what ?is ?my|my (public )?ip|internet sees|external test|reflexive|from outside)\b/i,
  ],
  [
    'default-gateway',
    /\b(default (gateway|route|router)|gateway( ip| address)?$|next hop|standard ?gateway)\b/i,
  ],
  ['dns-server', /\b(dns|name ?server|resolver)\b/i],
  ['wan-address', /\b(wan|internet|public|external|outside|uplink|provider)\b/i],
  ['lan-address', /\b(lan|local network|inside|router('s)? (own )?(ip|address)|home network)\b/i],
  ['server-address', /\b(server|host|machine|nas|box) ?(is|ip|address|'s)?\b/i],
  ['client-address', /\b(client|caller|friend|customer)\b/i],
];
const KIND =
  /\b(connection|link|wan|internet) (type|kind|mode)\b|\b(pppoe|ds-?lite|dhcp client|static ip|mobile)\b/i;
const UPTIME = /\b(up ?time|connected (since|for)|connection time)\b/i;

/**
 * Text before the value; the value is the address at its end, in a table cell of its own, or after `:`, `=`
 * or `is`.
 */
const VALUE =
  /((?:\d{1,3}\.){3}\d{1,3}(?:\/\d{1,2})?|(?:[0-9a-fA-F]{0,4}:){2,}[0-9a-fA-F.:]*(?:\/\d{1,3})?)/g;

/**
 * Single labelled values, as copied from a status page or typed: `WAN IP 100.72.14.9`, `server
 * 192.168.50.20`.
 */
export const labelled: Reader = {
  format: 'labelled-values',
  title: 'labelled values (status page or typed)',
  recognise(text) {
    const lines = linesOf(text.slice(0, 20_000)).filter((l) => l.text.trim() !== '');
    const hits = lines.filter((l) => factsOf(l).length > 0).length;
    if (hits === 0) return 0;
    if (hits * 2 >= lines.length) return 0.6;
    return hits >= 2 ? 0.45 : 0;
  },
  read(text) {
    const facts: LabelledFact[] = [];
    const problems: Problem[] = [];
    let heading = '';
    for (const line of linesOf(text)) {
      if (line.text.trim() === '') continue;
      const found = factsOf(line, heading);
      if (found.length > 0) facts.push(...found);
      else if (/^[^\d:=]{2,40}:?\s*$/.test(line.text.trim())) heading = line.text.trim().replace(/:$/, '');
      else
        problems.push({
          line: line.number,
          text: line.text.trim().slice(0, 200),
          why: 'no value here that is known what to do with',
        });
    }
    return { format: 'labelled-values', facts, problems, covers: [] };
  },
};

function factsOf(line: Line, heading = ''): LabelledFact[] {
  const out: LabelledFact[] = [];
  let from = 0;
  for (const match of line.text.matchAll(VALUE)) {
    const value = match[1]!.replace(/:$/, '');
    const p = parsePrefix(value);
    const address = parseAddress(value.split('/')[0]!);
    if (!p || !address) continue;
    const label = line.text
      .slice(from, match.index)
      .replace(/(?<![\s:=|,;–-])[\s:=|,;–-]+$/, '')
      .replace(/^[\s|,;.]+/, '')
      .trim();
    from = match.index + match[0].length;
    const what = meaning(label, heading, addressKind(address).kind);
    if (!what) continue;
    out.push({
      kind: 'labelled',
      what,
      label: label || heading,
      value: value.split('/')[0]!,
      at: { line: line.number, column: match.index, endColumn: match.index + value.length },
      ...(value.includes('/') ? { prefix: p.length } : {}),
    });
  }
  if (out.length > 0) return out;
  const pair = /^([^:=\t|]{2,40})[:=\t|](.*)/.exec(line.text.trim());
  const value = pair?.[2]?.trim() ?? '';
  if (!pair?.[1] || value === '') return [];
  const place = {
    line: line.number,
    column: line.text.indexOf(value),
    endColumn: line.text.indexOf(value) + value.length,
  };
  if (UPTIME.test(pair[1]))
    return [{ kind: 'labelled', what: 'uptime', label: pair[1].trim(), value, at: place }];
  if (KIND.test(pair[1]))
    return [{ kind: 'labelled', what: 'connection-kind', label: pair[1].trim(), value, at: place }];
  return [];
}

/** A label is a few words; a line of prose or of a listing is not one. */
function meaning(label: string, heading: string, kind: string): LabelKind | null {
  if (label.length > 48 || /[<>{}"$#]/.test(label)) return null;
  if (/\b(mask|subnet mask|broadcast|mac)\b/i.test(label)) return 'other';
  for (const text of [label, `${heading} ${label}`]) {
    const hit = LABELS.find(([, pattern]) => pattern.test(text));
    if (hit) return hit[0];
  }
  // A bare address label under a WAN or LAN heading says nothing more by itself.
  if (/\b(ip|ipv4|ipv6|address|addr)\b/i.test(label)) {
    return kind === 'private' ? 'lan-address' : 'wan-address';
  }
  return null;
}
