/** Bytes that scanners look for. */
export const NEWLINE = 10;
export const RETURN = 13;
export const SPACE = 32;
export const HASH = 35;
export const DASH = 45;
export const DOT = 46;
export const ZERO = 48;
export const NINE = 57;
export const D = 68;
export const S = 83;
export const T = 84;
export const OPENED = 91;
export const CLOSED = 93;
