import type { CheckWords, System } from '../../words/index.ts';

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
