import { formatPrefix } from '../../net/index.ts';
import { shellWord } from '../../asks/index.ts';
import type { RuleWish, Written } from './wish.ts';

/** A row of `ufw`, which keeps it by itself; above others where one of them decides before it (ufw(8)). */
export function ufwRow({ transport, peers, port, side }: RuleWish, isFirst: boolean): Written | null {
  if (side === 'answer') return null;
  const rows = peers
    ? peers.map((p) => `allow from ${formatPrefix(p)} to any port ${port} proto ${transport}`)
    : [`allow ${port}/${transport}`];
  return {
    text: rows.join('; '),
    commands: rows.map((r) => `ufw ${isFirst ? 'prepend ' : ''}${r}`),
    undo: rows.map((r) => `ufw delete ${r}`),
  };
}

/** A row of a zone, in force at once and after a restart (firewall-cmd(1)). */
export function firewalldRow(
  { family, transport, peers, port, side }: RuleWish,
  zone: string | null,
): Written | null {
  if (side === 'answer') return null;
  const at = zone === null ? '' : ` --zone=${shellWord(zone)}`;
  const of = family === 4 ? 'ipv4' : 'ipv6';
  const rows = peers
    ? peers.map(
        (p) =>
          `rich-rule='rule family="${of}" source address="${formatPrefix(p)}" port port="${port}" ` +
          `protocol="${transport}" accept'`,
      )
    : [`port=${port}/${transport}`];
  const each = (option: 'add' | 'remove'): string[] =>
    rows.flatMap((r) => [
      `firewall-cmd${at} --${option}-${r}`,
      `firewall-cmd --permanent${at} --${option}-${r}`,
    ]);
  return { text: rows.map((r) => `--add-${r}`).join('; '), commands: each('add'), undo: each('remove') };
}
