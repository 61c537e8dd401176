import { nth } from '../../place/index.ts';
import { linesOf } from '../text.ts';
import { lineAt, once, problemAt } from '../noted.ts';
import type { Reader } from '../reader.ts';
import { serverOf } from './igdAnswers.ts';

/** The mapped address in the words of two families of clients, with its port where it is told. */
const MAPPED = new RegExp(
  String.raw`(?:reflexive addr(?:ess)?|Mapped ?Address)\s{0,9}[:=]?\s{0,9}` +
    String.raw`((?:\d{1,3}\.){3}\d{1,3}|\[[0-9a-fA-F:]+\])(?::(\d+))?`,
  'i',
);

/** A STUN client's output (RFC 8489): the address that the internet sees. */
export const stunClient: Reader = {
  format: 'stun-client',
  title: 'the address that the internet sees (STUN)',
  recognise: (text) => (/reflexive addr|MappedAddress|Mapped address/i.test(text.slice(0, 3000)) ? 0.96 : 0),
  read(text) {
    const line = linesOf(text).find((l) => /reflexive addr|Mapped ?Address/i.test(l.text)) ?? {
      number: 1,
      text: '',
    };
    const m = MAPPED.exec(line.text);
    if (!m)
      return {
        format: 'stun-client',
        facts: [],
        problems: [problemAt(line, 'address-unreadable')],
        covers: [],
      };
    const address = nth(m, 1).replace(/^\[|\]$/g, '');
    return {
      format: 'stun-client',
      problems: [],
      covers: [],
      facts: [
        ...(serverOf(text) ? [once('server', lineAt(line), serverOf(text)!)] : []),
        once('reflexiveAddress', lineAt(line), address),
        {
          kind: 'labelled',
          what: 'seen-address',
          label: 'seen by a STUN server',
          value: address,
          at: { line: line.number, column: m.index, endColumn: m.index + m[0].length },
        },
      ],
    };
  },
};
