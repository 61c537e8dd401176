import type { Address, Family, PortSet, Prefix, Transport } from '../../net/index.ts';
import type { Chain, Origin, Rule } from '../../rules/index.ts';

/** A rule for one service, as a mend wants it. */
export interface RuleWish {
  readonly family: Family;
  readonly transport: Transport;
  /** The other end: who asks, or whom the answer goes to. null: anyone */
  readonly peers: readonly Prefix[] | null;
  /** The address that the question is for; null: any. */
  readonly destination: Address | null;
  readonly port: number;
  /** Whether it is for questions to the port, or for answers from it. */
  readonly side: 'question' | 'answer';
  readonly then:
    | { readonly do: 'accept' }
    /** Without a port it keeps the one that was dialled. */
    | { readonly do: 'translate'; readonly to: Address; readonly port?: number }
    /** Behind the address of the interface that it leaves by. */
    | { readonly do: 'masquerade' };
}

/** Where a new rule goes. */
export interface Place {
  readonly chain: Chain;
  /** Right above this one; null: at the head of the chain. */
  readonly above: Rule | null;
}

/** A change of one part of a rule. */
export type RuleEdit =
  | { readonly edit: 'protocol'; readonly to: Transport }
  | { readonly edit: 'port'; readonly to: PortSet }
  /** null: for anyone */
  | { readonly edit: 'source'; readonly to: readonly Prefix[] | null }
  | { readonly edit: 'address'; readonly to: Address }
  /** It holds on every interface. */
  | { readonly edit: 'line' }
  /** Where a translation leads. */
  | { readonly edit: 'target'; readonly to: Address }
  /** A translation keeps the port that was dialled. */
  | { readonly edit: 'target-port' };

/** Which service a change is for: the rules that are written carry it, so that they are found again. */
export interface Served {
  readonly transport: Transport;
  readonly port: number;
}

/** Whole command lines for a shell, in order, and those that take them back. */
export interface Commands {
  readonly commands: readonly string[];
  readonly undo: readonly string[];
}

/** The text of a rule in its filter's own syntax, and the commands that make and unmake it. */
export interface Written extends Commands {
  readonly text: string;
}

export type Of<P extends Origin['program']> = Extract<Origin, { readonly program: P }>;

/**
 * How one packet filter's rules are written, each word from evidence quoted for a shell (POSIX.1-2017, 2.2).
 */
export interface RuleWriter<O> {
  readonly text: (wish: RuleWish) => string;
  /** A rule's text with one part changed; null where it is not written like this. */
  readonly edited: (text: string, edit: RuleEdit) => string | null;
  readonly insert: (origin: O, text: string, above: Rule | null, served: Served) => Commands;
  readonly replace: (origin: O, rule: Rule, text: string, served: Served) => Commands;
  /** One rule of a chain right above another one of it. */
  readonly move: (origin: O, rule: Rule, above: Rule, served: Served) => Commands;
}
