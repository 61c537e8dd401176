import type { RuleWish } from '../devices/index.ts';
import { parsePrefix, type Prefix } from '../net/index.ts';
import type { Chain, Origin, Rule } from '../rules/index.ts';

/** Short forms for tests of commands: wishes, rules as their listing has them, chains of each front end. */

export const prefixes = (...texts: readonly string[]): Prefix[] =>
  texts.map((text) => parsePrefix(text)).filter((p) => p !== null);
/** For TCP 8214, whoever asks. */
export const WISH: RuleWish = {
  family: 4,
  transport: 'tcp',
  peers: null,
  destination: null,
  port: 8214,
  side: 'question',
  then: { do: 'accept' },
};
export const rule = (text: string, more: Partial<Rule> = {}): Rule => ({
  id: text,
  text,
  source: null,
  steps: [],
  ...more,
});
export const chain = (origin: Origin, rules: Rule[] = []): Chain => ({
  id: 'c',
  name: 'c',
  origin,
  rules,
  source: null,
});
export const NFT: Origin = { program: 'nft', family: 'inet', table: 'guard', chain: 'input' };
export const IPTABLES: Origin = { program: 'iptables', command: 'iptables', table: 'filter', chain: 'INPUT' };
export const UFW: Origin = { program: 'ufw' };
export const ZONE: Origin = { program: 'firewalld', zone: 'public' };
export const PROFILE: Origin = { program: 'profiles', profile: 'Private' };
export const BOX: Origin = { program: 'device' };
export const HANDLE =
  "$(nft -a list chain inet guard input | sed -n '/bright-ferry-tcp-8214/{s/.*# handle //p;q}')";
export const MARK = 'comment bright-ferry-tcp-8214';

/** The commands of a change, and under a line those that take it back. */
export const lines = (
  made: { commands: readonly string[]; undo: readonly string[] } | null,
): string[] | null => made && [...made.commands, '—', ...made.undo];
