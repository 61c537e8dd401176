import { shellWord } from '../asks/index.ts';
import type { Commands } from '../devices/index.ts';
import type { FaultId } from '../faults/index.ts';
import { formatAddress } from '../net/index.ts';
import type { SourceRef } from '../place/index.ts';
import type { Finding } from './finding.ts';
import { programListen } from './programListen.ts';
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
    case 'row-value':
    case 'inside-port':
    case 'shadowed':
      return finding.written ?? NONE;
    case 'listener': {
      const { commands, undo } = programListen(finding) ?? NONE;
      return { commands, undo };
    }
    case 'setting': {
      const set = (value: string): string => `sysctl -w ${shellWord(finding.key)}=${value}`;
      return { commands: [set(finding.mended)], undo: [set(finding.now)] };
    }
    case 'no-default-gateway': {
      const route = `default via ${formatAddress(finding.via)} dev ${shellWord(finding.device)}`;
      return { commands: [`ip route add ${route}`], undo: [`ip route del ${route}`] };
    }
    case 'no-link': {
      const set = (state: string): string => `ip link set dev ${shellWord(finding.interface)} ${state}`;
      return finding.isOff ? { commands: [set('up')], undo: [set('down')] } : NONE;
    }
    default:
      return NONE;
  }
}
