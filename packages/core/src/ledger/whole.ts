import type { Coverage, Reading } from '../facts/index.ts';
import { selectionOf } from '../reading/index.ts';

/** What is known about how a piece of evidence came about. */
export interface Provenance {
  /** The command line that printed it. */
  readonly command?: string;
  /** A person's word that nothing is missing. */
  readonly whole?: boolean;
  /** A person's word that something is. */
  readonly part?: boolean;
  /** It answers an ask of the tool's own, whose commands select nothing. */
  readonly asked?: string;
  /** The case tells of no piece how it came about, so that its form alone is left to judge by. */
  readonly byForm?: boolean;
}

/** Listings whose form is the same whether or not a choice was made: only their command proves them whole. */
const SELECTABLE: ReadonlySet<Coverage> = new Set(['sockets-tcp', 'sockets-udp', 'host-rows']);
/** Lists that add up: that there is no other one is a person's word alone. */
const ADDS_UP: ReadonlySet<Coverage> = new Set(['allow-list']);

/**
 * The one judge of what a listing speaks for even where it shows nothing: by a person's word, its
 * command, and its own form (`gaps`). What is not in the result it shows as present only.
 */
export function wholeCovers(
  { covers, gaps, command, facts }: Pick<Reading, 'covers' | 'gaps' | 'command' | 'facts'>,
  said: Provenance,
): readonly Coverage[] {
  if (said.part) return [];
  const line = command ?? said.command;
  const left = line === undefined ? null : selectionOf(line);
  // That a command selects is a fact; nobody's word makes its output whole.
  if (left === 'everything') return [];
  const shown = left === null ? covers : covers.filter((c) => !left.has(c));
  // That nothing is missing is a person's word; what a row says that nobody could read is not.
  if (gaps?.includes('unread')) return [];
  if (said.whole) return shown;
  if (gaps && gaps.length > 0) return [];
  const alone = shown.filter((c) => !ADDS_UP.has(c));
  const isAnswer = said.asked !== undefined;
  // A heading with nothing below it has the form of a listing of connections as well (`ss -tu`).
  const isFormEnough = said.byForm === true && facts.length > 0;
  return left === null && !isFormEnough && !isAnswer ? alone.filter((c) => !SELECTABLE.has(c)) : alone;
}
