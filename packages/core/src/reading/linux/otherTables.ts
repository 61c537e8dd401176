import type { Problem, ProblemReason } from '../../facts/index.ts';

/** What a listing of iptables says about rules that it cannot list. */
interface OtherTables {
  /** Whose they are: the older kernel interface, or `nft` itself (iptables-nft prints both warnings). */
  readonly of: 'legacy' | 'nft';
  readonly pattern: RegExp;
  readonly why: ProblemReason;
}

const KINDS: readonly OtherTables[] = [
  {
    of: 'legacy',
    pattern: /^# Warning: ip6?tables-legacy tables present.*$/m,
    why: 'legacy-tables-beside',
  },
  {
    of: 'nft',
    pattern: /^# Table `\w+' (?:is incompatible|contains incompatible base-chains), use 'nft' tool.*$/m,
    why: 'nft-tables-beside',
  },
];

export interface ForeignTables {
  readonly of: OtherTables['of'];
  readonly problem: Problem;
}

/** The rules beside those listed, as far as the program itself warns of them. */
export const otherTables = (text: string): ForeignTables[] =>
  KINDS.flatMap(({ of, pattern, why }) => {
    const found = pattern.exec(text);
    if (!found) return [];
    const line = text.slice(0, found.index).split('\n').length;
    return [{ of, problem: { line, text: found[0].slice(0, 200), why } }];
  });

/** Whether nft keeps rules beside those that are listed, and nobody else does. */
export const isBesideNft = (others: readonly ForeignTables[]): boolean =>
  others.length > 0 && others.every((o) => o.of === 'nft');
