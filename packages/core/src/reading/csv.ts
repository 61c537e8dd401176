import Papa from 'papaparse';

/** A cell of a table with the column at which it begins. */
export interface CsvCell {
  readonly text: string;
  readonly column: number;
}

/** A quoted cell with the blanks before it; what stands inside its quotes is its own. */
const QUOTED_CELL = /(^|[,;\t]) {0,9}("(?:[^"]|"")*")/g;

/** The cells of one record (RFC 4180 §2): a separator or doubled quotes inside quotes belong to the cell. */
export function csvCells(text: string, delimiter: string): CsvCell[] {
  // People put blanks before an opening quote, which the standard does not know.
  const record = text.replaceAll(QUOTED_CELL, '$1$2');
  const [values] = Papa.parse<string[]>(record, { delimiter }).data;
  let from = 0;
  return (values ?? []).map((value) => {
    const word = value.trim();
    const at = text.indexOf(word, from);
    const column = at < 0 ? from : at;
    from = column + word.length;
    return { text: word, column };
  });
}
