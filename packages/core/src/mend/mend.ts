import type { Commands } from '../devices/index.ts';
import type { FaultId } from '../faults/index.ts';
import type { SourceRef } from '../place/index.ts';
import type { Finding } from './finding.ts';
import { programListen } from './programListen.ts';
import { defaultRoute, linkUp, settingCommands } from './systemCommands.ts';
import type { Scene } from './scene.ts';

/** A change that removes one fault, with exact values. */
export interface Mend {
  /** Whose page it is made on, where that is not the stop's own. */
  readonly keptBy?: 'carrier';
  readonly fault: FaultId;
  readonly stop: string;
  readonly finding: Finding;
  readonly evidence: readonly SourceRef[];
  /** Carries the change out on a copy. null: it cannot be rehearsed. */
  readonly apply: ((scene: Scene) => Scene) | null;
  /** Another way, where this one does not suit. */
  readonly or?: Mend;
}

const NONE: Commands = { commands: [], undo: [] };

/**
 * The commands that carry a mend out on an open system, and those that take it back; none where it is made on
 * a page, or by a person.
 */
export function commandsOf({ finding }: Mend): Commands {
  switch (finding.found) {
    case 'translation-missing':
    case 'translation-near':
    case 'translation-target':
    case 'sources-too-narrow':
    case 'wrong-side':
    case 'not-allowed':
    case 'row-blocks':
    case 'program-blocked':
    case 'row-value':
    case 'turn-round':
    case 'inside-port':
    case 'shadowed':
      return finding.written ?? NONE;
    case 'listener': {
      const { commands, undo } = programListen(finding) ?? NONE;
      return { commands, undo };
    }
    case 'setting':
      return settingCommands(finding) ?? NONE;
    case 'no-default-gateway':
      return defaultRoute(finding) ?? NONE;
    case 'no-link':
      return (finding.isOff ? linkUp(finding) : null) ?? NONE;
    default:
      return NONE;
  }
}
