import { lineAt, problemAt, told, written } from '../noted.ts';
import type { Fact, Problem } from '../../facts/index.ts';
import type { Reader } from '../reader.ts';

const STATE = /^Firewall is (enabled|disabled)\b/i;
/** It is on, for programs each by itself. */
const SOME = /\(State = 1\)/i;
/** Releases differ in the words; each says it once for the whole machine. */
const BLOCKS = [
  /^Firewall (?:has )?block all state set to (enabled|disabled)/i,
  /^Block all (enabled|disabled)/i,
  /^Firewall is set to block all /i,
];
/** It is on, and blocks all. */
const BLOCKING = /^Firewall is blocking all /i;
const ROW = /^(?:\d+ ?: ?)?(\/\S.*)$/;
const VERDICT = /^\(?\s*(Allow|Block) incoming connections\s*\)?$/i;

/**
 * The firewall for programs, as its own tool lists it: whether it is on, whether it blocks everything, and
 * what it does with each program.
 */
export const applicationFirewall: Reader = {
  format: 'application-firewall',
  title: 'a firewall for programs',
  recognise: (text) =>
    /^Firewall (?:is (?:enabled|disabled|blocking all|set to block all)|(?:has )?block all state)\b/im.test(
      text.slice(0, 4000),
    ) || /^ALF: total number of apps/m.test(text.slice(0, 4000))
      ? 0.95
      : 0,
  read(text) {
    const facts: Fact[] = [];
    const problems: Problem[] = [];
    let app: string | null = null;
    for (const line of written(text)) {
      const t = line.text.replace(/\s+/g, ' ').trim();
      const state = STATE.exec(t);
      const blocks = BLOCKS.map((form) => form.exec(t)).find((found) => found !== null);
      const verdict = VERDICT.exec(t);
      if (BLOCKING.test(t))
        facts.push(
          told('application-firewall', lineAt(line), true, t),
          told('application-blocks-all', lineAt(line), true, t),
        );
      else if (state)
        facts.push(
          told('application-firewall', lineAt(line), isOn(state[1]), t),
          ...(SOME.test(t) ? [told('application-blocks-all', lineAt(line), false, t)] : []),
        );
      else if (blocks)
        facts.push(told('application-blocks-all', lineAt(line), isOn(blocks[1] ?? 'enabled'), t));
      else if (verdict && app !== null) {
        const allow = verdict[1]?.toLowerCase() === 'allow';
        facts.push(told('application', lineAt(line), { app, allow }, `${app}: ${t}`));
        app = null;
      } else if (ROW.test(t)) app = ROW.exec(t)?.[1] ?? null;
      else if (!/^ALF: total number/.test(t)) problems.push(problemAt(line, 'no-program-firewall-line'));
    }
    return { format: 'application-firewall', facts, problems, covers: [] };
  },
};

const isOn = (word: string | undefined): boolean => word?.toLowerCase() === 'enabled';
