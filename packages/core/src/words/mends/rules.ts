import { formatAddress, formatPrefix } from '../../net/index.ts';
import type { Chain } from '../../rules/index.ts';
import { peopleText, servedText, type FindingOf, type FindingWords } from './parts.ts';

type RuleFinding = 'translation-missing' | 'sources-too-narrow' | 'not-allowed';

const SAVE = 'Write the rules to the file that is loaded at start.';

const REVIEW = 'Note a date to look at the allowed addresses again.';

/** Front ends keep what they are told; a packet filter by itself forgets it at the next start. */
const keeping = ({ origin }: Chain): string | null =>
  origin.program === 'ufw' || origin.program === 'firewalld' ? null : SAVE;

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
  'sources-too-narrow': (f, at) => ({
    wrong: `its filter allows ${peopleText(f.allowed)}${f.slip ? `, ${f.slip}` : ''}, and the client is ${formatAddress(f.client)}`,
    title: f.slip ? `Correct the allowed source to ${formatAddress(f.client)}` : `Let ${addedTo(f)} in`,
    where: `${at}, chain ${f.chain.name}, the rule “${f.rule.text}”`,
    values: [
      {
        label: 'Source',
        now: peopleText(f.allowed),
        mended: f.sources ? peopleText(f.sources) : 'any',
      },
    ],
    also: [keeping(f.chain), REVIEW].filter((t) => t !== null).join(' '),
    opens: `${f.served.transport} ${f.served.port} for ${addedTo(f)}${f.slip ? `; no longer for ${peopleText(f.allowed)}` : ''}`,
  }),
  'not-allowed': ({ chain, rule, wish, written }, at) => {
    const isAnswer = wish.side === 'answer';
    const who = isAnswer ? 'out' : `from ${peopleText(wish.peers)}`;
    return {
      wrong: rule
        ? `the rule “${rule.text}” ends it`
        : `nothing in “${chain.name}” lets ${servedText(wish)} in`,
      title: `Allow ${servedText(wish)} ${who}`,
      where: `${at}, chain ${chain.name}${rule ? ', above the rule that ends it' : ''}`,
      values: [{ label: 'Rule', now: null, mended: written?.text ?? `allow ${servedText(wish)} ${who}` }],
      also: keeping(chain),
      opens: isAnswer
        ? 'answers of this service'
        : `${wish.transport} ${wish.port} ${who.replace('from', 'for')}`,
    };
  },
};

/** Whom the change lets in besides those who were. */
function addedTo({ sources, allowed, slip }: FindingOf<'sources-too-narrow'>): string {
  if (sources === null) return 'anyone';
  if (slip) return peopleText(sources);
  const before = new Set(allowed.map(formatPrefix));
  return peopleText(sources.filter((p) => !before.has(formatPrefix(p))));
}
