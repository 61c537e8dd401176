import type { Json, NftFamily, NftObject } from '../../../devices/index.ts';
import { isWithValues, type Problem, type Reading } from '../../../facts/index.ts';
import type { Reader } from '../../reader.ts';
import { isLastLineEnded } from '../../text.ts';
import { elements, NotUnderstood } from './expressions.ts';
import { parseRule } from './statements.ts';
import { Cursor, tokensOf, type Token } from './tokens.ts';

const FAMILIES: ReadonlySet<string> = new Set(['ip', 'ip6', 'inet', 'arp', 'bridge', 'netdev']);

/** `nft list ruleset` as text, also with `-a` (handles), `-n`, `-s` (nft(8)). */
/** A line that belongs to no table: the listing is damaged, and rules may be missing. */
const STRAY = 'no-nft-line';

export const nftText: Reader = {
  format: 'nft',
  title: 'firewall rules (nft list ruleset)',
  recognise: (text) => {
    if (/^table (?:ip|ip6|inet|arp|bridge|netdev) \S+ \{(?: # handle \d+)?\s*$/m.test(text.slice(0, 100_000)))
      return 0.97;
    return /^[ \t]*table\s+(?:(?:ip|ip6|inet|arp|bridge|netdev)\s+)?[\w.-]+\s*\{/m.test(
      text.slice(0, 100_000),
    )
      ? 0.95
      : 0;
  },
  read(text): Reading {
    const reader = new Listing(text);
    reader.run();
    return {
      format: 'nft',
      facts: [{ kind: 'nft', at: { line: 1 }, objects: reader.objects }],
      ...wholeOrPart(reader.objects, reader.problems),
    };
  },
};

/**
 * A listing with chains, none of which hangs on a hook, is a chain or a set asked for by itself: it says
 * nothing about the rest.
 */
function wholeOrPart(
  objects: readonly NftObject[],
  problems: readonly Problem[],
): Pick<Reading, 'problems' | 'covers'> {
  const chains = objects.filter((o) => o.is === 'chain');
  const part =
    objects.length > 0 &&
    (chains.length > 0
      ? chains.every((c) => c.is === 'chain' && c.base === null)
      : objects.some((o) => o.is === 'set' || o.is === 'map'));
  return part
    ? {
        covers: [],
        problems: [...problems, { line: 1, text: '', why: 'nft-part' }],
      }
    : { covers: problems.some((p) => p.why === STRAY) ? [] : ['rules4', 'rules6'], problems };
}

const PRIORITY: Readonly<Record<string, number>> = {
  raw: -300,
  mangle: -150,
  dstnat: -100,
  filter: 0,
  security: 50,
  srcnat: 100,
};

class Listing {
  readonly objects: NftObject[] = [];
  readonly problems: Problem[] = [];
  readonly #cursor: Cursor;
  readonly #lines: string[];
  readonly #isEnded: boolean;

  constructor(text: string) {
    this.#cursor = new Cursor(tokensOf(text));
    this.#lines = text.split('\n');
    this.#isEnded = isLastLineEnded(text);
  }

  run(): void {
    const c = this.#cursor;
    for (c.skipLines(); !c.done; c.skipLines()) {
      if (c.take('table')) this.#table();
      else {
        this.#problem(this.#line(), STRAY);
        this.#skipLine();
      }
    }
  }

  #table(): void {
    const c = this.#cursor;
    const family = (FAMILIES.has(c.peek() ?? '') ? c.next().text : 'ip') as NftFamily;
    const line = this.#line();
    const name = c.value()?.text ?? '';
    if (this.objects.some((o) => o.is === 'table' && o.family === family && o.name === name)) {
      this.#problem(line, { is: 'table-twice', table: `${family} ${name}` });
      this.#guard(name, 'a table stands in the text twice');
    }
    const at = this.objects.length;
    this.objects.push({ is: 'table', at: { line }, family, name, dormant: false });
    if (!c.take('{')) return;
    for (c.skipLines(); !c.take('}'); c.skipLines()) {
      if (c.done) {
        this.#cutOff(family, name, line);
        return;
      }
      if (c.take('flags')) {
        if (c.peek() === 'dormant')
          this.objects[at] = { is: 'table', at: { line }, family, name, dormant: true };
        this.#skipLine();
      } else if (c.take('comment')) this.#skipLine();
      else if (c.take('chain')) this.#chain(family, name);
      else if (c.peek() === 'set' || c.peek() === 'map')
        this.#set(family, name, c.next().text as 'set' | 'map');
      else this.#other(family, name);
    }
  }

  #chain(family: NftFamily, table: string): void {
    const c = this.#cursor;
    const line = this.#line();
    const name = c.value()?.text ?? '';
    const at = this.objects.length;
    let base: Extract<NftObject, { is: 'chain' }>['base'] = null;
    this.objects.push({ is: 'chain', at: { line }, family, table, name, base });
    c.take('{');
    for (c.skipLines(); !c.take('}'); c.skipLines()) {
      if (c.done) {
        this.#cutOffChain(family, table, name, line);
        break;
      }
      if (c.peek() === 'type' && c.peek(2) === 'hook') base = this.#base(family, base);
      else if (c.peek() === 'policy') base = this.#policy(base);
      else if (c.peek() === 'comment') this.#skipLine();
      else this.#rule(family, table, name);
    }
    this.objects[at] = { is: 'chain', at: { line }, family, table, name, base };
  }

  /** `type filter hook input priority filter + 10; policy drop;` */
  #base(family: NftFamily, before: Extract<NftObject, { is: 'chain' }>['base']) {
    const c = this.#cursor;
    c.at++;
    const type = c.next().text;
    c.at++;
    const hook = c.value()?.text ?? '';
    let device: string | null = null;
    if (c.take('device')) device = c.value()?.text ?? null;
    if (c.take('devices')) device = this.#devices();
    let priority = 0;
    if (c.take('priority')) {
      const word = c.value()?.text ?? '0';
      priority = /^-?\d+$/.test(word) ? Number(word) : (PRIORITY[word] ?? 0);
      if (!/^-?\d+$/.test(word) && PRIORITY[word] === undefined)
        this.#problem(this.#line(), { is: 'chain-priority', word, family });
      if (c.take('+')) priority += Number(c.value()?.text ?? 0);
      else if (c.take('-')) priority -= Number(c.value()?.text ?? 0);
    }
    return { type, hook, priority, policy: before?.policy ?? ('accept' as const), device };
  }

  #devices(): string | null {
    const c = this.#cursor;
    c.take('=');
    try {
      const list = elements(c);
      return list.length === 1 ? String(list[0]) : null;
    } catch (error) {
      if (!(error instanceof NotUnderstood)) throw error;
      return null;
    }
  }

  #policy(base: Extract<NftObject, { is: 'chain' }>['base']) {
    const c = this.#cursor;
    c.at++;
    const policy = c.value()?.text === 'drop' ? ('drop' as const) : ('accept' as const);
    return base ? { ...base, policy } : base;
  }

  #rule(family: NftFamily, table: string, chain: string): void {
    const line = this.#line();
    const tokens = this.#lineTokens();
    const { steps, problem } = parseRule(tokens);
    const whole = (this.#lines[line - 1] ?? '').trim();
    const handle = whole.includes('# handle') ? /# handle (\d+)$/.exec(whole) : null;
    const counted = !whole.includes('counter packets')
      ? null
      : /(?:^|\s)counter packets (\d+) bytes (\d+)/.exec(whole);
    const text = handle ? whole.slice(0, whole.lastIndexOf('#')).trimEnd() : whole;
    this.objects.push({
      is: 'rule',
      at: { line },
      family,
      table,
      chain,
      steps,
      text,
      ...(handle ? { handle: Number(handle[1]) } : {}),
      ...(counted ? { counted: { packets: Number(counted[1]), bytes: Number(counted[2]) } } : {}),
    });
    if (problem) this.#problem(line, { is: 'rule-from', word: problem });
  }

  #set(family: NftFamily, table: string, is: 'set' | 'map'): void {
    const c = this.#cursor;
    const line = this.#line();
    const name = c.value()?.text ?? '';
    let list: Json[] = [];
    const flags: string[] = [];
    c.take('{');
    for (c.skipLines(); !c.take('}'); c.skipLines()) {
      if (c.done) {
        this.#cutOff(family, table, line);
        return;
      }
      if (c.take('elements', '=')) {
        try {
          list = elements(c);
        } catch (error) {
          if (!(error instanceof NotUnderstood)) throw error;
          this.#problem(this.#line(), { is: 'set-elements', set: name, detail: error.message });
          return this.#skipBlock();
        }
      } else if (c.take('flags')) flags.push(...this.#lineTokens().map((t) => t.text));
      else this.#skipLine();
    }
    this.objects.push({ is, at: { line }, family, table, name, elements: list, flags });
  }

  /** Flow tables, named counters and the like: passed over as blocks. */
  #other(family: NftFamily, table: string): void {
    const line = this.#line();
    const words = this.#lineTokens();
    const name = words[words.length - 2]?.text ?? '';
    this.objects.push({ is: 'other', at: { line }, what: words[0]?.text ?? '', family, table, name });
    if (words[words.length - 1]?.text === '{') this.#skipBlock();
  }

  #cutOff(family: NftFamily, table: string, line: number): void {
    const cut = `${family} ${table}`;
    if (!this.problems.some(({ why }) => isWithValues(why, 'table-not-closed') && why.table === cut))
      this.#problem(line, { is: 'table-not-closed', table: cut });
    this.#guard(table, 'the listing is cut off; what came after it is not known');
  }

  /** A doubt that every packet meets before all rules: something about the whole set is not known. */
  #guard(table: string, reason: string): void {
    const name = `(${reason})`;
    if (this.objects.some((o) => o.is === 'chain' && o.name === name)) return;
    const at = { line: this.#lines.length };
    this.objects.push({
      is: 'chain',
      at,
      family: 'inet',
      table,
      name,
      base: { type: 'filter', hook: 'prerouting', priority: -1000, policy: 'accept', device: null },
    });
    this.objects.push({
      is: 'rule',
      at,
      family: 'inet',
      table,
      chain: name,
      steps: [{ [`unparsed: ${reason}`]: null }],
      text: name,
    });
  }

  #cutOffChain(family: NftFamily, table: string, chain: string, line: number): void {
    this.#cutOff(family, table, line);
    const last = this.objects[this.objects.length - 1];
    // Where the text ends inside a line, the rule in it may go on.
    if (last?.is === 'rule' && !this.#isEnded)
      this.objects[this.objects.length - 1] = {
        ...last,
        steps: [{ 'unparsed: the rule is cut off': null }],
      };
    this.objects.push({
      is: 'rule',
      at: { line: this.#lines.length },
      family,
      table,
      chain,
      steps: [{ 'unparsed: the rest of this chain is cut off': null }],
      text: '(the listing is cut off here)',
    });
  }

  /** Tokens up to the end of the line; line ends inside braces do not count. */
  #lineTokens(): Token[] {
    const c = this.#cursor;
    const out: Token[] = [];
    for (let depth = 0; !c.done;) {
      const word = c.peek();
      if (word === '\n' && depth === 0) break;
      if (word === '}' && depth === 0) break;
      if (word === '{') {
        // A block opener ends its line; a set does not.
        if (
          c.peek(1) === '\n' &&
          depth === 0 &&
          out[0] !== undefined &&
          !out.some((t) => t.text === 'elements' || t.text === 'vmap' || t.text === 'map')
        ) {
          out.push(c.next());
          break;
        }
        depth++;
      }
      if (word === '}') depth--;
      const token = c.next();
      if (word !== '\n') out.push(token);
    }
    return out;
  }

  #skipLine(): void {
    const start = this.#cursor.at;
    this.#lineTokens();
    if (this.#cursor.at === start) this.#cursor.at++;
  }

  #skipBlock(): void {
    const c = this.#cursor;
    for (let depth = 1; depth > 0 && !c.done;) {
      const word = c.value();
      if (word?.quoted) continue;
      if (word?.text === '{') depth++;
      if (word?.text === '}') depth--;
    }
  }

  #line(): number {
    return this.#cursor.tokens[this.#cursor.at]?.line ?? this.#lines.length;
  }

  #problem(line: number, why: Problem['why']): void {
    this.problems.push({ line, text: (this.#lines[line - 1] ?? '').trim().slice(0, 200), why });
  }
}
