import type { HostRowChange } from '../../devices/index.ts';
import { formatAddress, formatPrefix } from '../../net/index.ts';
import type { Chain, Rule } from '../../rules/index.ts';
import { peopleText, servedText, type FindingOf, type FindingWords } from './parts.ts';

type RuleFinding =
  | 'translation-missing'
  | 'translation-near'
  | 'sources-too-narrow'
  | 'wrong-side'
  | 'not-allowed'
  | 'row-blocks'
  | 'program-blocked'
  | 'row-value';

/** The values of a host firewall's row, and how one of them keeps a service out. */
const ROW_PARTS: Readonly<
  Record<HostRowChange['part'], { readonly label: string; readonly off: (now: string) => string }>
> = {
  profiles: { label: 'Profile', off: (now) => `it holds on the profile ${now} alone, which is not active` },
  program: { label: 'Program', off: (now) => `it is for another file, ${now}` },
  protocol: { label: 'Protocol', off: (now) => `it allows ${now.toUpperCase()}` },
  ports: { label: 'Local port', off: (now) => `it allows the port ${now}` },
};

const SAVE = 'Write the rules to the file that is loaded at start.';

const REVIEW = 'Note a date to look at the allowed addresses again.';

/** Front ends keep what they are told; a packet filter by itself forgets it at the next start. */
const keeping = ({ origin }: Chain): string | null =>
  origin.program === 'nft' || origin.program === 'iptables' ? SAVE : null;

/** Devices and front ends have rows, not chains. */
const isRows = ({ origin }: Chain): boolean =>
  origin.program !== 'nft' && origin.program !== 'iptables' && origin.program !== 'bsd';

/** `row “Gullcast relay”` of `row 1 (Gullcast relay): allow tcp 444 …`. */
function rowOf({ text }: Rule): string {
  const named = /^row (\d+) \((.+)\): /.exec(text);
  if (named) return `row “${named[2]}”`;
  return /^row \d+:/.test(text) ? text.slice(0, text.indexOf(':')) : `row “${text}”`;
}

export const RULE_WORDS: { readonly [K in RuleFinding]: FindingWords<K> } = {
  'translation-missing': ({ wish, chain, to, written }, at) => ({
    wrong: `no rule translates ${servedText(wish)} to the server`,
    title: `Translate ${servedText(wish)} to ${formatAddress(to)}`,
    where: chain ? `${at}, chain ${chain.name}` : `${at}, a new translation chain on prerouting`,
    values: [
      { label: 'Rule', now: null, mended: written?.text ?? `${servedText(wish)} to ${formatAddress(to)}` },
    ],
    also: SAVE,
    opens: `${wish.transport} ${wish.port} of the server, as far as the forward rules let it`,
  }),
  'translation-near': ({ part, rule, chain, served, now, mended, written }, at) => ({
    wrong: nearText(part, served, now),
    title: NEAR_TITLE[part](mended),
    where: `${at}, chain ${chain.name}, the rule “${rule.text}”`,
    values: [
      { label: NEAR_LABEL[part], now, mended },
      ...(written ? [{ label: 'Rule', now: rule.text, mended: written.text }] : []),
    ],
    also: keeping(chain),
    opens: `${served.transport} ${served.port} of the server, for those whom the rule allows`,
  }),
  'sources-too-narrow': (f, at) => ({
    wrong:
      `${isRows(f.chain) ? `its ${rowOf(f.rule)}` : 'its filter'} allows ` +
      `${peopleText(f.allowed)}${f.slip ? `, ${f.slip}` : ''}, and the client is ` +
      `${formatAddress(f.client)}`,
    title: f.slip ? `Correct the allowed source to ${formatAddress(f.client)}` : `Let ${addedTo(f)} in`,
    where: isRows(f.chain)
      ? `${at}, its ${rowOf(f.rule)}`
      : `${at}, chain ${f.chain.name}, the rule “${f.rule.text}”`,
    values: [
      {
        label: 'Source',
        now: peopleText(f.allowed),
        mended: f.sources ? peopleText(f.sources) : 'any',
      },
    ],
    also: [keeping(f.chain), REVIEW].filter((t) => t !== null).join(' '),
    opens:
      `${f.served.transport} ${f.served.port} for ` +
      `${addedTo(f)}${f.slip ? `; no longer for ${peopleText(f.allowed)}` : ''}`,
  }),
  'wrong-side': ({ chain, rule, served, now, mended, written }, at) => ({
    wrong:
      `the rule for ${servedText(served)} names ${formatAddress(now)}; where it stands the packet ` +
      `is for ${formatAddress(mended)} already`,
    title: `Let the rule name ${formatAddress(mended)}`,
    where: isRows(chain)
      ? `${at}, its ${rowOf(rule)}`
      : `${at}, chain ${chain.name}, the rule “${rule.text}”`,
    values: [
      { label: 'Destination', now: formatAddress(now), mended: formatAddress(mended) },
      ...(written ? [{ label: 'Rule', now: rule.text, mended: written.text }] : []),
    ],
    also: keeping(chain),
    opens: `${served.transport} ${served.port} of ${formatAddress(mended)}, for those whom the rule allows`,
  }),
  'row-blocks': ({ rule, served }, at) => ({
    wrong: `its ${rowOf(rule)} blocks ${servedText(served)}, and a row that blocks wins over all that allow`,
    title: `Switch off the ${rowOf(rule)}`,
    where: `${at}, its list of inbound rows`,
    values: [{ label: 'Enabled', now: 'on', mended: 'off' }],
    also:
      'Such a row is often made by a question of the system that somebody answered with no: ' +
      'look for its twins.',
    opens: 'what this row held back, as far as another row allows it',
  }),
  'program-blocked': ({ app, served }, at) => ({
    wrong:
      app === null
        ? 'its firewall for programs lets in nothing but what the system itself needs'
        : `its firewall for programs blocks ${app}, and with it ${servedText(served)}`,
    title:
      app === null
        ? 'Let programs in by their rows instead of none at all'
        : `Let connections come in to ${app.split('/').pop() ?? app}`,
    where: `${at}, System Settings, Network, Firewall, Options`,
    values:
      app === null
        ? [{ label: 'Block all incoming connections', now: 'on', mended: 'off' }]
        : [{ label: app, now: 'block incoming connections', mended: 'allow incoming connections' }],
    also: app === null ? 'Look through the rows afterwards: each program that has one listens again.' : null,
    opens:
      app === null
        ? 'every program that a row of this firewall allows'
        : 'whatever this program listens on, to everyone who gets as far as this machine',
  }),
  'row-value': ({ name, change, served }, at) => {
    const own = name === null ? 'the row' : `the row “${name}”`;
    const now = change.now.join(', ');
    const mended = change.mended.join(', ');
    return {
      wrong: `${own} was made for ${servedText(served)}, but ${ROW_PARTS[change.part].off(now)}`,
      title: `Correct ${own}: ${mended} instead of ${now}`,
      where: `${at}, its list of inbound rows`,
      values: [{ label: ROW_PARTS[change.part].label, now, mended }],
      also:
        change.part === 'profiles'
          ? 'Or give the network the profile of the row, if it is the wrong one.'
          : null,
      opens: `${servedText(served)}, for those whom the row allows`,
    };
  },
  'not-allowed': (finding, at) => {
    const { chain, rule, wish, written } = finding;
    const isAnswer = wish.side === 'answer';
    const who = isAnswer ? 'out' : `from ${peopleText(wish.peers)}`;
    return {
      wrong: endedBy(finding),
      title: `Allow ${servedText(wish)} ${who}`,
      where: isRows(chain)
        ? `${at}, its list of rows`
        : `${at}, chain ${chain.name}${rule ? ', above the rule that ends it' : ''}`,
      values: [{ label: 'Rule', now: null, mended: written?.text ?? `allow ${servedText(wish)} ${who}` }],
      also: keeping(chain),
      opens: isAnswer
        ? 'answers of this service'
        : `${wish.transport} ${wish.port} ${who.replace('from', 'for')}`,
    };
  },
};

type NearPart = FindingOf<'translation-near'>['part'];

const NEAR_LABEL: Readonly<Record<NearPart, string>> = {
  protocol: 'Protocol',
  port: 'Outside port',
  source: 'Source',
  address: 'Outside address',
  line: 'Interface',
};

const NEAR_TITLE: Readonly<Record<NearPart, (mended: string) => string>> = {
  protocol: (mended) => `Let the translation take ${mended}`,
  port: (mended) => `Let the translation take port ${mended}`,
  source: (mended) => `Let ${mended} use the translation`,
  address: (mended) => `Let the translation name ${mended}`,
  line: () => 'Let the translation hold on every line',
};

function nearText(part: NearPart, served: FindingOf<'translation-near'>['served'], now: string): string {
  const what = `the translation for ${servedText(served)}`;
  switch (part) {
    case 'protocol':
      return (
        `the translation for port ${served.port} is for ${now}, and the client comes with ` +
        `${served.transport.toUpperCase()}`
      );
    case 'port':
      return `the translation to the server takes port ${now}, and the client dials ${served.port}`;
    case 'source':
      return `${what} is for ${now}, and the client is none of them`;
    case 'address':
      return `${what} is bound to ${now}, which is not the address that was dialled`;
    case 'line':
      return `${what} is bound to ${now}, and the packet comes in by another line`;
  }
}

/** What ends the packet: a rule or row, or that there is none for it. */
function endedBy({ rule, chain, wish, further }: FindingOf<'not-allowed'>): string {
  const what = servedText(wish);
  if (further)
    return rule
      ? `connections to ${what} open, and the rule “${rule.text}” ends them`
      : `“${chain.name}” lets new connections to ${what} in, and drops what follows`;
  if (rule) return isRows(chain) ? `its ${rowOf(rule)} ends it` : `the rule “${rule.text}” ends it`;
  return isRows(chain) ? `none of its rows lets ${what} in` : `nothing in “${chain.name}” lets ${what} in`;
}

/** Whom the change lets in besides those who were. */
function addedTo({ sources, allowed, slip }: FindingOf<'sources-too-narrow'>): string {
  if (sources === null) return 'anyone';
  if (slip) return peopleText(sources);
  const before = new Set(allowed.map(formatPrefix));
  return peopleText(sources.filter((p) => !before.has(formatPrefix(p))));
}
