/** What lets more people in than was asked for. */
export type TooOpen =
  | { readonly open: 'administration'; readonly what: string; readonly port: number }
  | { readonly open: 'database'; readonly port: number }
  /** Everyone gets in, and it is meant for so many addresses. */
  | { readonly open: 'everyone'; readonly asked: number }
  | { readonly open: 'wide'; readonly lets: number; readonly asked: number }
  | { readonly open: 'exposed-host'; readonly address: string };

const addresses = (n: number): string => (n === 1 ? 'one address' : `${n.toLocaleString('en')} addresses`);

/** One sentence about what is too open, without its full stop. */
export function tooOpenText(t: TooOpen): string {
  switch (t.open) {
    case 'administration':
      return `Remote administration is open to everyone: port ${t.port} is ${t.what}`;
    case 'database':
      return `A database is open to everyone (port ${t.port})`;
    case 'everyone':
      return `Open to everyone, asked for ${addresses(t.asked)}`;
    case 'wide':
      return `Lets in ${addresses(t.lets)}, asked for ${addresses(t.asked)}`;
    case 'exposed-host':
      return `${t.address} is an exposed host: every port that no row takes goes to it`;
  }
}
