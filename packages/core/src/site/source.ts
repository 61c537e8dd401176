/** A place in a piece of evidence. Lines count from 1; columns from 0, end exclusive. */
export interface SourceRef {
  readonly file: string;
  readonly line: number;
  readonly column?: number;
  readonly endColumn?: number;
}
