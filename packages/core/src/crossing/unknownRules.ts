import type { Family } from '../net/index.ts';
import type { Machine } from '../site/index.ts';
import type { Question } from '../rules/index.ts';

/** Whether a machine whose rules are not known lets a packet pass (0) or not (1). */
export const unknownRulesQuestion = (machine: Machine, family: Family): Question => ({
  key: `${machine.id}/rules/${family}`,
  need: { need: 'rules', stop: machine.id, family },
  settle: { stop: machine.id, yields: 'rules' },
});
