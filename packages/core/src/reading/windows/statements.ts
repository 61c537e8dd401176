import type { Coverage, Fact } from '../../facts/index.ts';
import { firstLine, lineAt, listed, told, written } from '../noted.ts';
import type { Reader } from '../reader.ts';
import { linesOf } from '../text.ts';

/** What the system's shell says where nothing fits what was asked for. */
const NOTHING: readonly (readonly [RegExp, readonly Coverage[]])[] = [
  [/^No rules match the specified criteria\./im, ['host-rows']],
  [/No (?:matching )?MSFT_NetFirewallRule objects found/i, ['host-rows']],
  [/No matching MSFT_NetTCPConnection objects found/i, ['sockets-tcp']],
  [/No matching MSFT_NetUDPEndpoint objects found/i, ['sockets-udp']],
];

/**
 * "Nothing found" is an answer: nothing of the kind that was asked for is there. What was asked for is in the
 * command, or in the message itself (`… WHERE ((LocalPort = 8211))`); without either it proves nothing.
 */
export const nothingFound: Reader = {
  format: 'nothing-found',
  title: 'an answer that nothing was found',
  recognise: (text) =>
    written(text.slice(0, 4000)).length <= 12 && NOTHING.some(([pattern]) => pattern.test(text)) ? 0.97 : 0,
  read(text, command = '') {
    const covers = NOTHING.find(([pattern]) => pattern.test(text))?.[1] ?? [];
    const isNarrowed = /\bWHERE\b.*\b(?:Local|Remote|Owning|Display|Name|Port|Address)/is.test(text);
    const line = linesOf(text).find((l) => NOTHING.some(([p]) => p.test(l.text))) ?? firstLine(text);
    const said = line.text.trim().slice(0, 160);
    return {
      format: 'nothing-found',
      facts: [listed('nothingFound', lineAt(line), said, said)],
      problems: [],
      covers: isNarrowed || command === '' ? [] : covers,
    };
  },
};

const RANGES = /^Protocol (tcp|udp) Port Exclusion Ranges\s*$/im;
const RANGE = /^\s+(\d{1,5})\s+(\d{1,5})(\s+\*)?\s*$/;

/** Ports that the system keeps from programs: `netsh interface ipv4 show excludedportrange`. */
export const excludedPorts: Reader = {
  format: 'excluded-ports',
  title: 'ports that the system keeps back',
  recognise: (text) => (RANGES.test(text.slice(0, 2000)) ? 0.98 : 0),
  read(text) {
    const facts: Fact[] = [];
    let protocol = 'tcp';
    for (const line of written(text)) {
      protocol = RANGES.exec(line.text.trim())?.[1]?.toLowerCase() ?? protocol;
      const row = RANGE.exec(line.text);
      if (!row) continue;
      const [first, last] = [Number(row[1]), Number(row[2])];
      facts.push(told('kept-back', lineAt(line), { protocol, first, last }, `${protocol} ${first}-${last}`));
    }
    return { format: 'excluded-ports', facts, problems: [], covers: [] };
  },
};
