import { formatAddress, formatPrefix, type Address } from '../../net/index.ts';
import { iptablesShell, shellWord } from '../../asks/index.ts';
import type { Of, RuleWish, RuleWriter } from './wish.ts';

type Origin = Of<'iptables'>;

/** An IPv6 target stands in brackets (ip6tables-extensions(8), DNAT). */
const targetText = (to: Address): string => (to.family === 6 ? `[${formatAddress(to)}]` : formatAddress(to));

/** A rule without the `-A CHAIN` with which it is printed. */
const bare = (text: string): string => text.replace(/^-A \S+ /, '');

const words = (text: string): string => iptablesShell(bare(text));

/** One rule of several addresses is several rules to the kernel (iptables(8), -s). */
const rulesOf = (text: string): number =>
  [/(?:^|\s)-s (\S+)/, /(?:^|\s)-d (\S+)/].reduce(
    (count, list) => count * (list.exec(text)?.[1]?.split(',').length ?? 1),
    1,
  );

const onChain = ({ command, table, chain }: Origin, option: 'I' | 'D' | 'R'): string =>
  `${command} -t ${table} -${option} ${shellWord(chain)}`;

function ruleText({ transport, peers, destination, port, side, then }: RuleWish): string {
  const asks = side === 'question';
  return [
    ...(peers ? [`${asks ? '-s' : '-d'} ${peers.map(formatPrefix).join(',')}`] : []),
    ...(destination ? [`-d ${formatAddress(destination)}`] : []),
    `-p ${transport} ${asks ? '--dport' : '--sport'} ${port}`,
    thenText(then),
  ].join(' ');
}

function thenText(then: RuleWish['then']): string {
  switch (then.do) {
    case 'accept':
      return '-j ACCEPT';
    case 'masquerade':
      return '-j MASQUERADE';
    case 'translate':
      return (
        `-j DNAT --to-destination ${targetText(then.to)}` +
        `${then.port === undefined ? '' : `:${then.port}`}`
      );
  }
}

/** Rules of iptables (iptables(8)): a rule is named by its number, or by its whole text. */
export const iptables: RuleWriter<Origin> = {
  text: ruleText,
  edited(text, e) {
    switch (e.edit) {
      case 'protocol':
        return text.replace(/-p (?:tcp|udp)/, `-p ${e.to}`).replace(/-m (?:tcp|udp)\b/, `-m ${e.to}`);
      case 'port': {
        const [only] = e.to;
        // Several ports need another match (iptables-extensions(8), multiport).
        if (e.to.length !== 1 || !only) return null;
        const ports = only.first === only.last ? `${only.first}` : `${only.first}:${only.last}`;
        return text.replace(/--dport \S+/, `--dport ${ports}`);
      }
      case 'source':
        return text.replace(/-s \S+ ?/, e.to ? `-s ${e.to.map(formatPrefix).join(',')} ` : '');
      case 'address':
        return text.replace(
          /-d \S+/,
          `-d ${formatPrefix({ ...e.to, length: e.to.family === 4 ? 32 : 128 })}`,
        );
      case 'line':
        return text.replace(/-i \S+ ?/, '');
      case 'target':
        return text.replace(
          /(--to-destination) (?:(\[)[^\]]*\]|\d+(?:\.\d+){3}|[\da-f:.]+)/i,
          (_, option: string, isBracketed?: string) =>
            `${option} ${isBracketed ? targetText(e.to) : formatAddress(e.to)}`,
        );
      case 'target-port':
        return text.replace(/(--to-destination (?:\[[^\]]*\]|\d+(?:\.\d+){3})):\d+/, '$1');
    }
  },
  insert(origin, text, above) {
    const number = above?.number === undefined ? '' : ` ${above.number}`;
    return {
      commands: [`${onChain(origin, 'I')}${number} ${words(text)}`],
      undo: [`${onChain(origin, 'D')} ${words(text)}`],
    };
  },
  replace(origin, rule, text) {
    const { number } = rule;
    if (number !== undefined && rulesOf(text) === 1)
      return {
        commands: [`${onChain(origin, 'R')} ${number} ${words(text)}`],
        undo: [`${onChain(origin, 'R')} ${number} ${words(rule.text)}`],
      };
    // One rule cannot be put in place of several, nor several in place of one (iptables(8), -R).
    const at = number === undefined ? '' : ` ${number}`;
    const old = number === undefined ? words(rule.text) : `${number + rulesOf(text)}`;
    return {
      commands: [`${onChain(origin, 'I')}${at} ${words(text)}`, `${onChain(origin, 'D')} ${old}`],
      undo: [`${onChain(origin, 'I')}${at} ${words(rule.text)}`, `${onChain(origin, 'D')} ${words(text)}`],
    };
  },
  move(origin, rule, above) {
    const from = rule.number;
    const to = above.number;
    if (from === undefined || to === undefined) return { commands: [], undo: [] };
    return {
      // A copy above it is enough: the one below is not asked any more, and stays for the way back.
      commands: [`${onChain(origin, 'I')} ${to} ${words(rule.text)}`],
      undo: [`${onChain(origin, 'D')} ${to}`],
    };
  },
};
