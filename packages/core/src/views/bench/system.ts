import type { CaseFacts } from '../../ledger/index.ts';
import type { CheckWords, System } from '../../words/index.ts';

/** Formats that only one kind of system prints. */
const PRINTED_BY: Readonly<Record<string, System>> = {
  ipconfig: 'windows',
  'route-print': 'windows',
  'netsh-rules': 'windows',
  'cmdlet-objects': 'windows',
  'bsd-filter': 'macos',
};

/** The system that a stop's evidence comes from; null where nothing tells. */
export function systemOf(facts: CaseFacts, stop: string): System | null {
  return (
    facts.files
      .filter((f) => f.stop === stop)
      .map((f) => PRINTED_BY[f.format ?? ''] ?? null)
      .find((s) => s !== null) ?? null
  );
}

/** The commands for that system first: the owner is sent what they can run. */
export function forSystem(words: CheckWords, system: System | null): CheckWords {
  return {
    ...words,
    commands: [
      ...words.commands.filter((c) => c.system === system),
      ...words.commands.filter((c) => c.system !== system),
    ],
  };
}
