import { Parser } from 'htmlparser2';

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
    // A tag that never ends is text that somebody cut.
    this.#out.push(this.#page.slice(this.#at));
    return this.#out.join('').replaceAll('\u00a0', ' ');
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
    else this.#out.push(breaks);
  }

  #opened(name: string, attributes: Readonly<Record<string, string>>): void {
    const source = this.#source();
    if (name === 'tr' || name === 'table') this.#endRow();
    if (name === 'tr') this.#cells = [];
    this.#breakLines(source);
    if (UNSHOWN.has(name)) this.#unshown++;
    if (name === 'td' || name === 'th') {
      this.#endCell();
      if (this.#cells) this.#cell = '';
    } else if (name === 'select') this.#choice = { first: null, selected: null, open: null };
    else if (name === 'option' && this.#choice)
      this.#choice.open = { text: '', isSelected: 'selected' in attributes };
    else if (name === 'input') this.#show(valueOf(attributes));
    else this.#show(' ');
  }

  #closed(name: string, isImplied: boolean): void {
    const source = isImplied ? '' : this.#source();
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
        this.#out.push(data);
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
    this.#cells?.push(this.#cell.replace(/\s+/g, ' ').trim());
    this.#cell = null;
  }

  #endRow(): void {
    this.#endCell();
    if (!this.#cells) return;
    this.#out.push(this.#cells.join('\t'), this.#breaks);
    this.#cells = null;
    this.#breaks = '';
  }
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
