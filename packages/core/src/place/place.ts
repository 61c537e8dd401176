/**
 * A place in a text. Lines count from 1, columns from 0, end exclusive; a missing column means the whole
 * line.
 */
export interface Span {
  readonly line: number;
  readonly column?: number;
  readonly endColumn?: number;
}

/** A place in a piece of evidence. */
export interface SourceRef extends Span {
  readonly file: string;
}
