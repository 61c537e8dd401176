import { nth } from '../../place/index.ts';
import type { Problem, SettingFact } from '../../facts/index.ts';
import { linesOf, spanOf } from '../text.ts';
import type { Reader } from '../reader.ts';

const ENTRY = /^\s*((?:net|kernel|vm|fs|dev|user|abi|debug)\.[^\s=]{1,200}?)(?: *= *|: )(.*)/;

/** `sysctl` output and sysctl.conf(5): `key = value`; `#` and `;` begin comments. */
export const sysctl: Reader = {
  format: 'sysctl',
  title: 'kernel settings (sysctl)',
  recognise: (text) => (linesOf(text.slice(0, 5000)).some((l) => ENTRY.test(l.text)) ? 0.8 : 0),
  read(text) {
    const facts: SettingFact[] = [];
    const problems: Problem[] = [];
    for (const line of linesOf(text)) {
      const match = ENTRY.exec(line.text);
      if (match)
        facts.push({
          kind: 'setting',
          at: spanOf(line, nth(match, 1)),
          key: nth(match, 1),
          value: nth(match, 2).trim(),
        });
      else if (line.text.trim() !== '' && !/^\s*[#;]/.test(line.text))
        problems.push({
          line: line.number,
          text: line.text.slice(0, 200),
          why: 'no-kernel-setting',
        });
    }
    return { format: 'sysctl', facts, problems, covers: [] };
  },
};
