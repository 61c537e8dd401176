import type { Family } from '../net/index.ts';
import type { SourceRef } from '../place/index.ts';
import type { Ask, Question } from '../rules/index.ts';
import type { Machine } from '../site/index.ts';

/** Whether a machine hands packets on between its interfaces, and what says so. */
export function isForwarding(
  machine: Machine,
  family: Family,
  ask: Ask,
): { readonly on: boolean; readonly source: SourceRef | null } {
  const key = family === 4 ? 'net.ipv4.ip_forward' : 'net.ipv6.conf.all.forwarding';
  const setting = machine.settings.get(key);
  if (setting) return { on: setting.value !== '0', source: setting.source };
  const { forwarding } = machine.presumed;
  if (forwarding !== null) return { on: forwarding, source: null };
  const question: Question = {
    key: `${machine.id}/${key}`,
    need: { need: 'forwarding', stop: machine.id, setting: key },
    settle: { stop: machine.id, yields: 'routes' },
  };
  return { on: ask(question, 2) === 0, source: null };
}
