import type { NameFact, Problem } from '../../facts/index.ts';
import { parseAddress } from '../../net/index.ts';
import { nth } from '../../place/index.ts';
import type { Reader } from '../reader.ts';
import { spanOf, linesOf } from '../text.ts';
import { bare, statusOf, serviceOf } from './dns.ts';

const MISSING = new RegExp(
  String.raw`^\*\*.*?can't find ([^:\s]+): (\w+)|` +
    String.raw`^\*\*\* .*? ([\w.-]+\.[\w-]+):? .*(Non-existent domain|existe|inexist)`,
  'i',
);
const ADDRESS = new RegExp(
  String.raw`^(?:Address(?:es)?|Adresses?|Addresses|Direcci[oó]n(?:es)?|Endere[cç]os?)\s*:\s*` +
    String.raw`([0-9a-fA-F.:]+?)(#\d+)?$`,
);

/** `nslookup`, also the Windows one in any language: the server stands first, the answers below. */
export const nslookup: Reader = {
  format: 'nslookup',
  title: 'a DNS answer (nslookup)',
  recognise: (text) => {
    if (
      /^(Server|Serveur|Servidor|Servidor DNS)\s*:\s*\S+/m.test(text) &&
      /^(Address|Addresse|Adresse|Direcci[oó]n|Endere[cç]o)\s*:\s*[0-9a-fA-F.:]+(#\d+)?\s*$/m.test(text)
    )
      return 0.95;
    return /^\*\* server can't find /m.test(text) ? 0.93 : 0;
  },
  read(text) {
    const found = new Map<string, NameFact>();
    const problems: Problem[] = [];
    let server: string | undefined;
    let name: string | null = null;
    const add = (
      type: string,
      answer: string,
      line: { number: number; text: string },
      services?: NonNullable<NameFact['services']>[number],
    ): void => {
      const key = `${name} ${type}`;
      const before = found.get(key);
      found.set(key, {
        kind: 'name',
        at: before?.at ?? spanOf(line, answer),
        name: name!,
        type,
        status: 'NOERROR',
        answers: [...(before?.answers ?? []), answer],
        ...(services ? { services: [...(before?.services ?? []), services] } : {}),
        ...(server ? { server } : {}),
      });
    };
    for (const line of linesOf(text)) {
      const t = line.text.trim();
      const missing = MISSING.exec(t);
      const srv = /^(\S+)\s+service = (.+)$/.exec(t);
      const alias = /^(\S+)\s+canonical name = (\S+)$/.exec(t);
      const named = /^(?:Name|Nom|Nombre|Nome)\s*:\s*(\S+)$/.exec(t);
      const address = ADDRESS.exec(t) ?? (name !== null ? /^([0-9a-fA-F.:]{3,})()$/.exec(t) : null);
      if (missing)
        found.set('missing', {
          kind: 'name',
          at: spanOf(line, t),
          name: bare(missing[1] ?? nth(missing, 3)),
          type: 'A',
          status: /Non-existent|existe|inexist/i.test(t) ? 'NXDOMAIN' : statusOf(nth(missing, 2)),
          answers: [],
          ...(server ? { server } : {}),
        });
      else if (srv) {
        name = bare(nth(srv, 1));
        add('SRV', bare(nth(srv, 2)), line, serviceOf(nth(srv, 2)) ?? undefined);
      } else if (alias) {
        name = bare(nth(alias, 1));
        add('CNAME', bare(nth(alias, 2)), line);
      } else if (named) name = bare(nth(named, 1));
      else if (address && parseAddress(nth(address, 1))) {
        if (name === null) server = nth(address, 1);
        else add(parseAddress(nth(address, 1))!.family === 4 ? 'A' : 'AAAA', nth(address, 1), line);
      } else if (/timed out|no servers could be reached/i.test(t))
        problems.push({ line: line.number, text: t.slice(0, 200), why: 'name-server-silent' });
    }
    // A plain question asks for both families; the IPv4 answer is the one that a client tries by default.
    const facts = [...found.values()].sort((a, b) => Number(a.type === 'AAAA') - Number(b.type === 'AAAA'));
    return { format: 'nslookup', facts, problems, covers: [] };
  },
};
