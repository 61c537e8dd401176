/** Plain data as JSON has it. */
export type Plain = null | boolean | number | string | readonly Plain[] | { readonly [key: string]: Plain };
