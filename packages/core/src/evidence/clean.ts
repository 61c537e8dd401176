/** Terminal colours and cursor moves (ECMA-48 §5.4), which copied terminal text may hold. */
const ESCAPES = /\u001b\[[0-9;?]*[ -/]*[@-~]|\u001b\][^\u0007\u001b]*(?:\u0007|\u001b\\)|\u001b[@-Z\\-_]/g;

/** Removes what surrounds text without belonging to it. Lines keep their numbers. */
export function cleanText(text: string): string {
  const plain = text.includes('\u001b') ? text.replace(ESCAPES, '') : text;
  return plain.charCodeAt(0) === 0xfeff ? plain.slice(1) : plain;
}
