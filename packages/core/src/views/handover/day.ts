/** A moment of RFC 3339 as day and minute. */
export const day = (at: string): string => at.slice(0, 16).replace('T', ' ');
