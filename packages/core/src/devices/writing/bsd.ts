import { formatAddress, formatPrefix } from '../../net/index.ts';
import { shellWord } from '../../asks/index.ts';
import type { Commands, RuleWish, Written } from './wish.ts';

/** Only the filter's own rules are loaded anew; its translations and tables stay (pfctl(8), -R). */
const LOAD = 'pfctl -R -f -';

/**
 * A rule of the BSD packet filter (pf.conf(5)). It says `quick` and stands above the others, so that it
 * decides whatever follows; what it lets in is answered by its state.
 */
export function bsdRule({
  family,
  transport,
  peers,
  destination,
  port,
  side,
  then,
}: RuleWish): Written | null {
  if (side === 'answer' || then.do !== 'accept') return null;
  const from = peers ? listOf(peers.map(formatPrefix)) : 'any';
  const to = destination ? formatAddress(destination) : 'any';
  const inet = family === 4 ? 'inet' : 'inet6';
  const text = `pass in quick ${inet} proto ${transport} from ${from} to ${to} port ${port}`;
  const label = `label "bright-ferry-${transport}-${port}"`;
  // Rules stand behind what is said of fragments and the like, or the filter refuses the lot.
  const above = `awk -v rule=${shellWord(`${text} ${label}`)} '${FIRST}'`;
  return {
    text,
    commands: [`pfctl -sr | ${above} | ${LOAD}`],
    undo: [`pfctl -sr | grep -vF ${shellWord(label)} | ${LOAD}`],
  };
}

const FIRST = '!n && /^(pass|block|anchor)/ { print rule; n = 1 } { print } END { if (!n) print rule }';

const listOf = (names: readonly string[]): string =>
  names.length === 1 ? names.join('') : `{ ${names.join(', ')} }`;

const TOOL = '/usr/libexec/ApplicationFirewall/socketfilterfw';

/** A row of the firewall for programs of macOS, or its switch for all of them (null). */
export function applicationLetIn(app: string | null): Commands {
  return app === null
    ? { commands: [`${TOOL} --setblockall off`], undo: [`${TOOL} --setblockall on`] }
    : {
        commands: [`${TOOL} --unblockapp ${shellWord(app)}`],
        undo: [`${TOOL} --blockapp ${shellWord(app)}`],
      };
}
