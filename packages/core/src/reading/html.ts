import { Parser } from 'htmlparser2';
import { SOFT_BREAK } from './text.ts';

/** Longer cells are no values, characters. */
const LONGEST_CELL = 20_000;

/** What these hold is not shown. */
const UNSHOWN: ReadonlySet<string> = new Set(['script', 'style', 'template', 'noscript']);

const newlinesIn = (text: string): string => text.replace(/[^\n]+/g, '');

/** A list of choices in a cell: the selected one is its value, else the first. */
interface Choice {
  first: string | null;
  selected: string | null;
  /** The option that is open, and whether it is the selected one. */
  open: { text: string; readonly isSelected: boolean } | null;
}

/**
 * Tables of a page's source as rows with tabs, each on the line of its row; what stands between rows keeps
 * its lines without the tags. Cells show their text, the values of their fields, and whether their box is
 * ticked (HTML Living Standard §4.9, §4.10).
 */
export const plainTables = (page: string): string => new PlainTables(page).text();

class PlainTables {
  readonly #page: string;
  readonly #parser: Parser;
  readonly #out: string[] = [];
  /** Up to here the page's line breaks have been taken over. */
  #at = 0;
  #cells: string[] | null = null;
  #cell: string | null = null;
  /** Line breaks inside the row that is open. */
  #breaks = '';
  #choice: Choice | null = null;
  #unshown = 0;
  /** Tables that are open. */
  #open = 0;
  #cut = false;
  /** What was written last on this line: a row, or words. */
  #isAfterRow = false;
  #isAfterText = false;
  /** Columns over which the cell reaches (`colspan`). */
  #span = 1;

  constructor(page: string) {
    this.#page = page;
    this.#parser = new Parser(
      {
        onopentag: (name, attributes) => this.#opened(name, attributes),
        onclosetag: (name, isImplied) => this.#closed(name, isImplied),
        ontext: (data) => this.#text(data),
        oncomment: () => this.#breakLines(),
      },
      { decodeEntities: true },
    );
  }

  text(): string {
    this.#parser.write(this.#page);
    this.#parser.end();
    this.#endRow();
    // A table, or a tag, that never ends is a page that somebody cut.
    if (this.#open > 0 || this.#at < this.#page.trimEnd().length) this.#cut = true;
    this.#put(this.#page.slice(this.#at));
    if (this.#cut) this.#out.push(`${SOFT_BREAK}…`);
    return this.#out.join('').replaceAll('\u00a0', ' ');
  }

  /** What stands behind a row on the same line of the source is a line of its own. */
  #put(text: string): void {
    if (text === '') return;
    const isBroken = text.trimStart() !== text && /^[^\S\n]*\n/.test(text);
    if (text.trim() !== '' && !isBroken && (this.#isAfterRow || (this.#cells && this.#isAfterText)))
      this.#out.push(SOFT_BREAK);
    this.#out.push(text);
    if (text.includes('\n')) this.#isAfterRow = this.#isAfterText = false;
    if (text.trim() !== '') {
      this.#isAfterRow = false;
      this.#isAfterText = !text.endsWith('\n');
    }
  }

  /** The page's source since the last event. */
  #source(): string {
    const end = this.#parser.endIndex + 1;
    const source = this.#page.slice(this.#at, end);
    this.#at = Math.max(this.#at, end);
    return source;
  }

  #breakLines(source = this.#source()): void {
    const breaks = newlinesIn(source);
    if (this.#cells) this.#breaks += breaks;
    else this.#put(breaks);
  }

  #opened(name: string, attributes: Readonly<Record<string, string>>): void {
    const source = this.#source();
    if (name === 'tr' || name === 'table') this.#endRow();
    if (name === 'table') this.#open++;
    if (name === 'tr') this.#cells = [];
    this.#breakLines(source);
    if (UNSHOWN.has(name)) this.#unshown++;
    if (name === 'td' || name === 'th') {
      this.#endCell();
      this.#span = Math.min(Math.max(Number(attributes['colspan']) || 1, 1), MOST_SPAN);
      if (this.#cells) this.#cell = '';
    } else if (name === 'select') this.#choice = { first: null, selected: null, open: null };
    else if (name === 'option' && this.#choice)
      this.#choice.open = { text: '', isSelected: 'selected' in attributes };
    else if (name === 'input') this.#show(valueOf(attributes));
    else this.#show(` ${shownBy(name, attributes)} `);
  }

  #closed(name: string, isImplied: boolean): void {
    const source = isImplied ? '' : this.#source();
    if (name === 'table' && !isImplied && this.#open > 0) this.#open--;
    if (UNSHOWN.has(name) && this.#unshown > 0) this.#unshown--;
    if (name === 'option') this.#endOption();
    if (name === 'select') this.#endChoice();
    if (name === 'td' || name === 'th') this.#endCell();
    else this.#show(' ');
    if (name === 'tr' || name === 'table') this.#endRow();
    this.#breakLines(source);
  }

  #text(data: string): void {
    const source = this.#source();
    const isShown = this.#unshown === 0;
    if (isShown && this.#choice) {
      if (this.#choice.open) this.#choice.open.text += data;
    } else if (isShown) {
      if (!this.#cells) {
        this.#put(data);
        return;
      }
      this.#show(data);
    }
    this.#breakLines(source);
  }

  #show(text: string): void {
    if (this.#cell !== null && this.#cell.length < LONGEST_CELL) this.#cell += text;
  }

  #endOption(): void {
    const open = this.#choice?.open;
    if (!this.#choice || !open) return;
    this.#choice.first ??= open.text;
    if (open.isSelected) this.#choice.selected ??= open.text;
    this.#choice.open = null;
  }

  #endChoice(): void {
    this.#endOption();
    const shown = this.#choice?.selected ?? this.#choice?.first;
    this.#choice = null;
    this.#show(shown ?? '');
  }

  #endCell(): void {
    if (this.#cell === null) return;
    const text = this.#cell.replace(/\s+/g, ' ').trim();
    for (let i = 0; i < this.#span; i++) this.#cells?.push(text);
    this.#cell = null;
  }

  #endRow(): void {
    this.#endCell();
    if (!this.#cells) return;
    this.#put(this.#cells.join('\t'));
    this.#isAfterRow = true;
    this.#put(this.#breaks);
    this.#cells = null;
    this.#breaks = '';
  }
}

/** Cells over more columns are none of a table of values. */
const MOST_SPAN = 20;

/** What an element without text shows: the words for a picture, and whether a switch is on (WAI-ARIA 1.2). */
function shownBy(name: string, attributes: Readonly<Record<string, string>>): string {
  if (name === 'img') return attributes['alt'] ?? attributes['title'] ?? '';
  const checked = attributes['aria-checked'] ?? attributes['aria-pressed'];
  if (checked === 'true' || checked === 'false') return checked === 'true' ? 'on' : 'off';
  const words = (attributes['class'] ?? '').toLowerCase().split(/[\s_-]+/);
  if (!words.some((w) => /^(toggle|switch|slider|status|state|icon)$/.test(w))) return '';
  if (words.some((w) => /^(off|disabled|inactive|unchecked)$/.test(w))) return 'off';
  return words.some((w) => /^(on|enabled|active|checked)$/.test(w)) ? 'on' : '';
}

/** What a field of a form shows. */
function valueOf({ type, value, checked }: Readonly<Record<string, string>>): string {
  switch (type?.toLowerCase()) {
    case 'hidden':
      return '';
    case 'checkbox':
    case 'radio':
      return checked === undefined ? 'no' : 'yes';
    default:
      return value ?? '';
  }
}
