import { formatAddress, parseAddress } from '../../net/index.ts';
import type { Fact, Problem, TryRecord } from '../../facts/index.ts';
import { fateOf } from '../../traffic/index.ts';
import { endpoint } from '../captures/told.ts';
import { once, told } from '../noted.ts';

/** Different tries shown of one log; all lines are counted. */
const MOST_TRIES = 10_000;

/** One line of a log, as far as it tells of a packet. */
export interface LoggedPacket {
  readonly line: number;
  readonly protocol: string;
  readonly from: string;
  readonly fromPort: number | null;
  readonly to: string;
  readonly port: number | null;
  readonly action: string;
  readonly when: string | null;
  readonly isOutward?: boolean;
  readonly device?: string;
  /** Packets that the line stands for. */
  readonly count: number;
}

const short = (text: string): string => {
  const parsed = parseAddress(text);
  return parsed ? formatAddress(parsed) : text;
};

/** Counts the packets of a log that is read line by line, those that are alike as one try. */
export class Tries {
  readonly #tries = new Map<string, { line: number; ports: Set<number>; value: TryRecord }>();
  readonly #actions = new Map<string, number>();
  #beyond = 0;

  add(p: LoggedPacket): void {
    this.#actions.set(p.action, (this.#actions.get(p.action) ?? 0) + p.count);
    const key = JSON.stringify([p.protocol, p.from, p.to, p.port, p.action, p.isOutward ?? false]);
    const had = this.#tries.get(key);
    if (!had && this.#tries.size >= MOST_TRIES) {
      this.#beyond += p.count;
      return;
    }
    const ports = had?.ports ?? new Set<number>();
    if (p.fromPort !== null) ports.add(p.fromPort);
    const [only] = ports;
    const fate = fateOf(p.action);
    const first = had?.value.first ?? p.when;
    const last = p.when ?? had?.value.last;
    const value: TryRecord = {
      protocol: p.protocol,
      // Tries from several ports are one sender's.
      from: endpoint(short(p.from), ports.size === 1 ? only : undefined),
      to: endpoint(short(p.to), p.port ?? undefined),
      count: (had?.value.count ?? 0) + p.count,
      action: p.action,
      ...(fate === 'not-said' ? {} : { fate }),
      ...(first ? { first } : {}),
      ...(last ? { last } : {}),
      ...(p.isOutward ? { isOutward: true } : {}),
      ...(p.device ? { in: p.device } : {}),
    };
    this.#tries.set(key, { line: had?.line ?? p.line, ports, value });
  }

  facts(): Fact[] {
    const tries = [...this.#tries.values()].map(({ line, value }) =>
      told('try', { line }, value, tryText(value)),
    );
    const actions = [...this.#actions];
    return actions.length === 0
      ? tries
      : [
          ...tries,
          once(
            'lines',
            { line: 1 },
            Object.fromEntries(actions),
            actions.map(([action, n]) => `${action} ${n}`).join(', '),
          ),
        ];
  }

  /** @param others packets that were counted elsewhere, and not added */
  problems(others = 0): Problem[] {
    const beyond = this.#beyond + others;
    if (beyond === 0) return [];
    return [{ line: 1, text: '', why: { is: 'not-listed', what: 'packets', more: beyond } }];
  }
}

/** A try in one line; what its rule or the log calls it stands behind. */
export function tryText({ protocol, from, to, count, action, prefix }: TryRecord): string {
  const word = action ?? prefix;
  return `${protocol} ${from} → ${to}, ${count === 1 ? 'once' : `${count} times`}${word ? ` (${word})` : ''}`;
}
