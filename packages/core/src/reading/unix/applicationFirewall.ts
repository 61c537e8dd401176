import { lineAt, listed, problemAt, told, written } from '../noted.ts';
import type { Fact, Problem } from '../../facts/index.ts';
import type { Reader } from '../reader.ts';

const STATE =
  /^(?:Firewall is (enabled|disabled)|Firewall (?:has )?block all state set to (enabled|disabled)|Firewall is blocking all)/i;
const ROW = /^(?:\d+ ?: ?)?(\/\S.*)$/;
const VERDICT = /^\(?\s*(Allow|Block) incoming connections\s*\)?$/i;

/**
 * The firewall for programs, as its own tool lists it: whether it is on, and what it does with each
 * program.
 */
export const applicationFirewall: Reader = {
  format: 'application-firewall',
  title: 'a firewall for programs',
  recognise: (text) =>
    /^Firewall is (?:enabled|disabled)\b/im.test(text.slice(0, 4000)) ||
    /^ALF: total number of apps/m.test(text.slice(0, 4000))
      ? 0.95
      : 0,
  read(text) {
    const facts: Fact[] = [];
    const problems: Problem[] = [];
    let app: string | null = null;
    for (const line of written(text)) {
      const t = line.text.replace(/\s+/g, ' ').trim();
      const state = STATE.exec(t);
      const verdict = VERDICT.exec(t);
      if (state) {
        const isOn = (state[1] ?? state[2] ?? 'enabled').toLowerCase() === 'enabled';
        facts.push(told('application-firewall', lineAt(line), isOn, t));
      } else if (verdict && app !== null) {
        facts.push(
          listed(
            'applications',
            lineAt(line),
            { app, allow: verdict[1]?.toLowerCase() === 'allow' },
            `${app}: ${t}`,
          ),
        );
        app = null;
      } else if (/^Block all (?:ENABLED|DISABLED)/i.test(t)) {
        if (/ENABLED/i.test(t)) facts.push(listed('blocksAll', lineAt(line), true, t));
      } else if (ROW.test(t)) app = ROW.exec(t)?.[1] ?? null;
      else if (!/^ALF: total number/.test(t)) problems.push(problemAt(line, 'no-program-firewall-line'));
    }
    return { format: 'application-firewall', facts, problems, covers: [] };
  },
};
