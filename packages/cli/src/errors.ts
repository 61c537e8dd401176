/** Wrong use of the command line: exit status 2, one line. */
export class UsageError extends Error {}
