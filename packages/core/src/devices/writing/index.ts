import type { Address, Prefix } from '../../net/index.ts';
import type { Chain, Rule } from '../../rules/index.ts';
import { blockedBy } from '../bsdFilter/applications.ts';
import { applicationLetIn, bsdRule } from './bsd.ts';
import { firewalldRow, ufwRow } from './frontEnd.ts';
import { iptables } from './iptables.ts';
import { firstNft, nft } from './nft.ts';
export { powerShellWord, writeHostRow, type HostRowChange } from './profiles.ts';
import { profileOff, profileRow, profileSources, rowName } from './profiles.ts';
import { formatPrefix } from '../../net/index.ts';
import type { Commands, Place, RuleEdit, RuleWish, Served, Written } from './wish.ts';

export type { Commands, Place, RuleEdit, RuleWish, Written } from './wish.ts';

/** A new rule at its place; null where the chain belongs to a device that takes no commands. */
export function writeRule(wish: RuleWish, { chain, above }: Place): Written | null {
  const { origin } = chain;
  switch (origin.program) {
    case 'nft':
      return { text: nft.text(wish), ...nft.insert(origin, nft.text(wish), above, wish) };
    case 'iptables':
      return { text: iptables.text(wish), ...iptables.insert(origin, iptables.text(wish), above, wish) };
    case 'ufw':
      return ufwRow(wish, above !== null);
    case 'firewalld':
      return firewalldRow(wish, origin.zone);
    case 'profiles':
      return profileRow(wish, origin.profile);
    case 'bsd':
      return bsdRule(wish);
    case 'applications':
    case 'device':
      return null;
  }
}

/** A translation where there is no chain for it: what it needs is made first. */
export function writeFirstRule(wish: RuleWish, program: 'nft' | 'iptables'): Written {
  if (program === 'nft') return firstNft(wish);
  const text = iptables.text(wish);
  const command = wish.family === 4 ? 'iptables' : 'ip6tables';
  const chain = wish.then.do === 'masquerade' ? 'POSTROUTING' : 'PREROUTING';
  const origin = { program, command, table: 'nat', chain } as const;
  return { text, ...iptables.insert(origin, text, null, wish) };
}

/** A rule for another destination; null where its text names it in a way that is not written here. */
export const writeDestination = (rule: Rule, chain: Chain, to: Address, served: Served): Written | null =>
  writeEdited(rule, chain, { edit: 'address', to }, served);

/** Who else is to be let in by a rule, and whom it lets in now. */
export interface SourceChange {
  readonly now: readonly Prefix[];
  /** null: anyone */
  readonly mended: readonly Prefix[] | null;
  /** Whether the old sources go: where they do not, the new ones stand beside them. */
  readonly replaces: boolean;
}

/** A rule with other sources; null where its text names them in a way that is not written here. */
export function writeSources(rule: Rule, chain: Chain, change: SourceChange, wish: RuleWish): Written | null {
  const { origin } = chain;
  const { mended, replaces } = change;
  switch (origin.program) {
    case 'nft':
    case 'iptables': {
      if (replaces) return writeEdited(rule, chain, { edit: 'source', to: mended }, wish);
      const text = (origin.program === 'nft' ? nft : iptables).edited(rule.text, {
        edit: 'source',
        to: mended,
      });
      if (text === null || text === rule.text) return null;
      const made =
        origin.program === 'nft'
          ? nft.insert(origin, text, rule, wish)
          : iptables.insert(origin, text, rule, wish);
      return { text, ...made };
    }
    case 'profiles': {
      const name = onlyName(rule, chain);
      const all = mended && [...mended, ...(replaces ? [] : change.now)];
      const list = all ? all.map(formatPrefix) : ['Any'];
      // A row for “the local subnet”, or one of a name that others have too, is left as it is: one is added.
      if (name === null || change.now.length === 0 || rule.text.includes('local-subnet'))
        return writeRule(wish, { chain, above: null });
      return { text: list.join(', '), ...profileSources(name, change.now.map(formatPrefix), list) };
    }
    // A row more beside the old one.
    case 'ufw':
    case 'firewalld':
    // The first rule that is quick decides: it stands above all others.
    case 'bsd':
      return writeRule(wish, { chain, above: null });
    case 'applications':
    case 'device':
      return null;
  }
}

/** The name of a row, where no other row of the list has it: commands name rows by it. */
function onlyName(rule: Rule, { rules }: Chain): string | null {
  const name = rowName(rule);
  return rules.some((r) => r.text !== rule.text && rowName(r) === name) ? null : name;
}

/** A rule with one part changed; null where its text has that part in a way that is not written here. */
export function writeEdited(rule: Rule, chain: Chain, edit: RuleEdit, served: Served): Written | null {
  const { origin } = chain;
  if (origin.program !== 'nft' && origin.program !== 'iptables') return null;
  const text = (origin.program === 'nft' ? nft : iptables).edited(rule.text, edit);
  if (text === null || text === rule.text) return null;
  const made =
    origin.program === 'nft'
      ? nft.replace(origin, rule, text, served)
      : iptables.replace(origin, rule, text, served);
  return { text, ...made };
}

/** A rule right above another one of its chain; null where its program takes no commands. */
export function writeMoved(rule: Rule, above: Rule, chain: Chain, served: Served): Commands | null {
  const { origin } = chain;
  if (origin.program === 'nft') return nft.move(origin, rule, above, served);
  return origin.program === 'iptables' ? iptables.move(origin, rule, above, served) : null;
}

/** A row that blocks, switched off; null where its program takes no commands or the row has no name. */
export function writeOff(rule: Rule, chain: Chain): Commands | null {
  const app = chain.origin.program === 'applications' ? blockedBy(rule) : undefined;
  if (app !== undefined) return applicationLetIn(app);
  const name = chain.origin.program === 'profiles' ? onlyName(rule, chain) : null;
  return name === null ? null : profileOff(name);
}
