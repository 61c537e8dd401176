import { Parser } from 'htmlparser2';

/** An element without its namespace, with the text that stands directly in it. */
export interface XmlElement {
  readonly name: string;
  readonly text: string;
}

/**
 * The elements of an XML text (XML 1.0), in the order of their ends. What stands before and behind it,
 * such as the head of an HTTP answer, is passed over. Entities are resolved, but for those that a
 * document defines.
 */
export function xmlElements(text: string): XmlElement[] {
  const out: XmlElement[] = [];
  const open: { readonly name: string; text: string }[] = [];
  const parser = new Parser(
    {
      onopentag: (name) => open.push({ name: name.slice(name.indexOf(':') + 1), text: '' }),
      ontext: (part) => {
        const last = open[open.length - 1];
        if (last) last.text += part;
      },
      onclosetag: () => {
        const done = open.pop();
        if (done) out.push({ name: done.name, text: done.text.trim() });
      },
    },
    { xmlMode: true },
  );
  parser.end(text);
  return out;
}

/** The text of the first element of each name. */
export function xmlValues(text: string): ReadonlyMap<string, string> {
  const values = new Map<string, string>();
  for (const { name, text: value } of xmlElements(text)) if (!values.has(name)) values.set(name, value);
  return values;
}
