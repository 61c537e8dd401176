import { formatAddress } from '../../net/index.ts';
import { peopleText, servedText, type FindingOf, type FindingWords } from './parts.ts';

type ZoneFinding =
  'mapping-exchanged' | 'mapping-target' | 'zone-rule' | 'zone-rule-missing' | 'untranslated';

const named = (what: string, name: string | null): string => (name ? `${what} “${name}”` : `the ${what}`);
const rowOf = ({ rule }: FindingOf<'zone-rule'>): string =>
  rule.name === null ? `rule ${rule.number}` : `rule “${rule.name}”`;

const SAVE = 'Save and apply the page. The name record stays as it is.';

export const ZONE_WORDS: { readonly [K in ZoneFinding]: FindingWords<K> } = {
  'mapping-exchanged': ({ name, inside, dialled, served }, at) => ({
    wrong: `${name ?? 'the mapping'} has an inside address, ${formatAddress(inside)}, as its outside one`,
    title: `Exchange the two addresses of ${named('mapping', name)}`,
    where: `${at}, table of mappings`,
    values: [
      { label: 'Outside address', now: formatAddress(inside), mended: formatAddress(dialled) },
      { label: 'Inside address', now: formatAddress(dialled), mended: formatAddress(inside) },
    ],
    also: SAVE,
    opens: `what the rules let through to ${formatAddress(inside)}: ${servedText(served)}`,
  }),
  'mapping-target': ({ name, now, server, slip, served }, at) => ({
    wrong:
      `${named('mapping', name).replace(/^the /, 'its ')} leads to ` +
      `${formatAddress(now)}${slip ? `, ${slip}` : ''}, and the server is ${formatAddress(server)}`,
    title: `Let ${named('mapping', name)} lead to ${formatAddress(server)}`,
    where: `${at}, table of mappings`,
    values: [{ label: 'Inside address', now: formatAddress(now), mended: formatAddress(server) }],
    also: SAVE,
    opens: `what the rules let through to ${formatAddress(server)}: ${servedText(served)}`,
  }),
  'zone-rule': (f, at) => ({
    wrong: ruleText(f),
    title: `Correct the ${f.what === 'zone' ? 'zone' : 'destination'} of ${rowOf(f)}`,
    where: `${at}, table of rules, ${rowOf(f)}`,
    values: [{ label: f.what === 'zone' ? 'Destination zone' : 'Destination', now: f.now, mended: f.mended }],
    also: 'Save and apply the page. A second rule is not needed.',
    opens: `${servedText(f.served)} of ${f.mended}, for those whom the rule allows`,
  }),
  'zone-rule-missing': ({ served, from, to, destination, peers }, at) => ({
    wrong:
      `no rule lets ${servedText(served)} ` +
      `through${from === null ? '' : ` from zone ${from}`}${to === null ? '' : ` to zone ${to}`}`,
    title: `Allow ${servedText(served)} to ${formatAddress(destination.address)}`,
    where: `${at}, table of rules`,
    values: [
      { label: 'From zone', now: null, mended: from ?? 'any' },
      { label: 'To zone', now: null, mended: to ?? 'any' },
      { label: 'Source', now: null, mended: peopleText(peers) },
      { label: 'Destination', now: null, mended: formatAddress(destination.address) },
      { label: 'Service', now: null, mended: `${served.transport} ${destination.port}` },
      { label: 'Action', now: null, mended: 'allow' },
    ],
    also: 'Above every rule that drops it. Without a destination it would open the port of every machine.',
    opens: `${servedText(served)} of ${formatAddress(destination.address)} for ${peopleText(peers)}`,
  }),
  untranslated: ({ rule, outside, to, served }, at) => ({
    wrong:
      rule === null
        ? `nothing translates ${servedText(served)} on ${formatAddress(outside)}`
        : `${servedText(served)} is allowed${rule ? ` by rule “${rule}”` : ''}, and nothing translates it`,
    title: `Translate ${servedText(served)} to ${to ? formatAddress(to) : 'the server'}`,
    where: `${at}, table of translations`,
    values: [
      { label: 'Outside address', now: null, mended: formatAddress(outside) },
      { label: 'Protocol and port', now: null, mended: servedText(served) },
      { label: 'Inside address', now: null, mended: to ? formatAddress(to) : 'the server’s inside address' },
    ],
    also: 'Save and apply the page, then look at its table again.',
    opens: `${servedText(served)} of the server, as far as the rules let it`,
  }),
};

function ruleText(f: FindingOf<'zone-rule'>): string {
  if (f.what === 'zone')
    return `its ${rowOf(f)} names zone ${f.now}, and this firewall sees ${f.mended} there`;
  if (f.isOtherSide) return `its ${rowOf(f)} names ${f.now}, and this firewall sees ${f.mended} there`;
  const slip = f.slip ? `, ${f.slip}` : '';
  const to = f.mapping ? formatAddress(f.mapping.to) : f.mended;
  const what = f.mapping ? named('mapping', f.mapping.name) : 'the translation';
  return `its ${rowOf(f)} allows ${f.now}${slip}, and ${what} leads to ${to}`;
}
