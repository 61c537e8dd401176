import { nth } from '../../place/index.ts';
import { before } from '../text.ts';
import { plainForward, type Fact, type Problem } from '../../facts/index.ts';
import { listed, lineAt, problemAt, told, written } from '../noted.ts';
import type { Reader } from '../reader.ts';

const RULE = /^(?:@\d+\s+)?((?:pass|block|anchor|scrub|scrub-anchor|match|antispoof)\b.*)$/;
const FILTER = /^(?:@\d+\s+)?(?:pass|block)\s+(?:in|out|drop|return|quick|log|all|on|proto|from|inet)/;
const TRANSLATION = /^(?:@\d+\s+)?((?:no )?(?:rdr|nat|binat)(?:-anchor)?\b.*)$/;
const HEADING = new RegExp(
  String.raw`^(No ALTQ|ALTQ related|FILTER RULES|TRANSLATION RULES|Interface Stats|` +
    String.raw`State Table|Counters|set |table )`,
);
const FORWARD = new RegExp(
  String.raw`^rdr (?:pass )?on \S+ (?:inet )?proto (tcp|udp) from any to \S+ port (?:= )?(\d+)` +
    String.raw`(?::(\d+))? -> ((?:\d{1,3}\.){3}\d{1,3})(?: port (\d+))?`,
);

/** Lines that only a file has: macros, options, tables with their contents, comments. */
const FILE_LINE = /^(?:[A-Za-z]\w*\s*=\s*\S|set\s+\w|#|include\s|table\s+<\w+>)/;

/** Rules of the BSD packet filter as `pfctl -sr`, `-sn`, `-si` list them, or its file (pf.conf(5)). */
export const bsdFilter: Reader = {
  format: 'bsd-filter',
  title: 'rules of the BSD packet filter (pfctl)',
  recognise(text) {
    const lines = written(text.slice(0, 50_000)).map((l) => l.text.trim());
    if (
      lines.some((l) => FILTER.test(l) || FORWARD.test(l)) ||
      lines.some((l) => /^(scrub-)?anchor "/.test(l))
    )
      return 0.9;
    return lines.some((l) => /^Status: (Enabled|Disabled) (for|Debug|since)?/.test(l)) &&
      /Debug|State Table/.test(text)
      ? 0.9
      : 0;
  },
  read(text) {
    const facts: Fact[] = [];
    const problems: Problem[] = [];
    let rules = false;
    for (const line of written(text)) {
      const t = before(line.text, '#').trim();
      const rule = RULE.exec(t)?.[1];
      const translation = TRANSLATION.exec(t)?.[1];
      const forward = FORWARD.exec(translation ?? '');
      const status = /^Status: (Enabled|Disabled)/.exec(t)?.[1];
      if (t === '' || HEADING.test(t)) continue;
      if (rule?.startsWith('scrub')) rules = true;
      else if (rule) {
        rules = true;
        facts.push(told('bsd-rule', lineAt(line), rule, rule));
      } else if (forward) {
        const first = Number(forward[2]);
        const last = Number(forward[3] ?? first);
        const inside = Number(forward[5] ?? first);
        const outside = [{ first, last }];
        const inner = [{ first: inside, last: inside + last - first }];
        facts.push({
          ...plainForward(lineAt(line), forward[1] as 'tcp' | 'udp', outside, nth(forward, 4), inner),
          narrowed: [{ doubt: 'filter-of-forwarded' }],
        });
      } else if (translation) facts.push(listed('bsdTranslations', lineAt(line), translation, translation));
      else if (status)
        facts.push(
          told(
            'bsd-enabled',
            lineAt(line),
            status === 'Enabled',
            `the packet filter is ${status === 'Enabled' ? 'on' : 'off'}`,
          ),
        );
      else if (rules || facts.length === 0) problems.push(problemAt(line, 'no-filter-rule'));
    }
    // A file says what would be loaded; only what the system lists is in force (pf.conf(5), pfctl(8)).
    const isFile = written(text).some((l) => FILE_LINE.test(l.text.trim()));
    if (rules && isFile)
      problems.push({
        line: 1,
        text: text.slice(0, 80).split('\n')[0] ?? '',
        why: 'rules-file-bsd',
      });
    else if (rules) facts.push(told('bsd-rules-listed', { line: 1 }, true, 'the filter’s rules'));
    return { format: 'bsd-filter', facts, problems, covers: [] };
  },
};
