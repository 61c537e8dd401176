import type { Json, NftFamily, NftObject } from '../../../devices/index.ts';
import { isWithValues, type Problem } from '../../../facts/index.ts';
import { isLastLineEnded } from '../../text.ts';
import { baseOf, withPolicy, type ChainBase } from './baseChain.ts';
import { elements, NotUnderstood } from './expressions.ts';
import { lineTokens, skipBlock, skipLine } from './lines.ts';
import { parseRule } from './statements.ts';
import { Cursor, tokensOf } from './tokens.ts';

const FAMILIES: ReadonlySet<string> = new Set(['ip', 'ip6', 'inet', 'arp', 'bridge', 'netdev']);

/** A line that belongs to no table: the listing is damaged, and rules may be missing. */
export const STRAY = 'no-nft-line';

/** A listing of rule sets as text: its objects in their order, and what of it was not understood. */
export class Listing {
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
        skipLine(this.#cursor);
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
        skipLine(this.#cursor);
      } else if (c.take('comment')) skipLine(this.#cursor);
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
    let base: ChainBase = null;
    this.objects.push({ is: 'chain', at: { line }, family, table, name, base });
    c.take('{');
    for (c.skipLines(); !c.take('}'); c.skipLines()) {
      if (c.done) {
        this.#cutOffChain(family, table, name, line);
        break;
      }
      if (c.peek() === 'type' && c.peek(2) === 'hook')
        base = baseOf(c, base, (word) => this.#problem(this.#line(), { is: 'chain-priority', word, family }));
      else if (c.peek() === 'policy') base = withPolicy(c, base);
      else if (c.peek() === 'comment') skipLine(this.#cursor);
      else this.#rule(family, table, name);
    }
    this.objects[at] = { is: 'chain', at: { line }, family, table, name, base };
  }

  #rule(family: NftFamily, table: string, chain: string): void {
    const line = this.#line();
    const tokens = lineTokens(this.#cursor);
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
          return skipBlock(this.#cursor);
        }
      } else if (c.take('flags')) {
        flags.push(...lineTokens(this.#cursor).flatMap((t) => (t.text === ',' ? [] : [t.text])));
      } else skipLine(this.#cursor);
    }
    this.objects.push({ is, at: { line }, family, table, name, elements: list, flags });
  }

  /** Flow tables, named counters and the like: passed over as blocks. */
  #other(family: NftFamily, table: string): void {
    const line = this.#line();
    const words = lineTokens(this.#cursor);
    const name = words[words.length - 2]?.text ?? '';
    this.objects.push({ is: 'other', at: { line }, what: words[0]?.text ?? '', family, table, name });
    if (words[words.length - 1]?.text === '{') skipBlock(this.#cursor);
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

  #line(): number {
    return this.#cursor.tokens[this.#cursor.at]?.line ?? this.#lines.length;
  }

  #problem(line: number, why: Problem['why']): void {
    this.problems.push({ line, text: (this.#lines[line - 1] ?? '').trim().slice(0, 200), why });
  }
}
