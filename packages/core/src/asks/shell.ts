/** Words that a POSIX shell takes as they stand, wherever they stand in a command. */
const PLAIN = /^(?:[\w@%+=:,./-]+|[{}]|!=|!)$/;

/**
 * One word for a shell: in single quotes where it holds anything that a shell would act on (POSIX.1-2017,
 * 2.2.2).
 */
export const shellWord = (word: string): string =>
  PLAIN.test(word) ? word : `'${word.replaceAll("'", `'\\''`)}'`;

/** Quoted strings and words, as they stand in a rule. A backslash inside quotes keeps the next character. */
const PIECES = /"(?:[^"\\]|\\.)*"|[^\s"]+|"/g;

const pieces = (text: string): string[] => text.match(PIECES) ?? [];

/** A rule of nft for a shell: quotes are part of nft's own words and have to reach it. */
export const nftShell = (text: string): string => pieces(text).map(shellWord).join(' ');

/**
 * A rule as iptables-save prints it for a shell: its quotes are those of a shell, but what stands inside may
 * not be acted on.
 */
export const iptablesShell = (text: string): string =>
  pieces(text)
    .map((piece) =>
      piece.length > 1 && piece.startsWith('"')
        ? shellWord(piece.slice(1, -1).replace(/\\(.)/g, '$1'))
        : shellWord(piece),
    )
    .join(' ');
