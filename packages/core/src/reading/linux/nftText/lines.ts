import type { Cursor, Token } from './tokens.ts';

/**
 * Tokens up to the end of the line, or to the semicolon that ends a rule as well; those inside braces do not
 * count.
 */
export function lineTokens(c: Cursor): Token[] {
  const out: Token[] = [];
  for (let depth = 0; !c.done;) {
    const word = c.peek();
    if ((word === '\n' || word === ';') && depth === 0) break;
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

export function skipLine(c: Cursor): void {
  const start = c.at;
  lineTokens(c);
  if (c.at === start) c.at++;
}

/** Passes over a block whose opening brace has been read. */
export function skipBlock(c: Cursor): void {
  for (let depth = 1; depth > 0 && !c.done;) {
    const word = c.value();
    if (word?.quoted) continue;
    if (word?.text === '{') depth++;
    if (word?.text === '}') depth--;
  }
}
