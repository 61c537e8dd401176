import { nth } from '../../place/index.ts';
import { before } from '../text.ts';
import { parseAddress } from '../../net/index.ts';
import type { NotedFact, Problem } from '../../facts/index.ts';
import { once, problemAt, written } from '../noted.ts';
import type { Reader } from '../reader.ts';

/** `/etc/resolv.conf` (resolv.conf(5)). */
export const resolvConf: Reader = {
  format: 'resolv-conf',
  title: 'name servers (resolv.conf)',
  recognise: (text) =>
    /^[ \t]*nameserver[ \t]+[0-9a-fA-F.:]+(%\w+)?[ \t]*$/m.test(text.slice(0, 10_000)) ? 0.95 : 0,
  read(text) {
    const servers: string[] = [];
    const search: string[] = [];
    const problems: Problem[] = [];
    let first = 1;
    for (const line of written(text)) {
      const [word, ...rest] = line.text.trim().split(/\s+/);
      if (word === 'nameserver' && rest[0]) {
        if (servers.length === 0) first = line.number;
        servers.push(rest[0]);
      } else if (word === 'search' || word === 'domain') search.push(...rest);
      else if (word !== 'options' && word !== 'sortlist' && !/^[#;]/.test(word!))
        problems.push(problemAt(line, 'no-resolver-line'));
    }
    const facts: NotedFact[] = [
      once('nameservers', { line: first }, servers, servers.join(', ')),
      ...(search.length > 0 ? [once('search', { line: first }, search, search.join(', '))] : []),
    ];
    return { format: 'resolv-conf', facts, problems, covers: [] };
  },
};

/** `/etc/hosts` (hosts(5)): address and names; they stand before the DNS on that machine. */
export const hosts: Reader = {
  format: 'hosts',
  title: 'fixed names (hosts)',
  recognise(text) {
    const lines = written(text.slice(0, 10_000)).filter((l) => !l.text.trim().startsWith('#'));
    return lines.length > 0 &&
      lines.every(
        (l) =>
          /^\s*[0-9a-fA-F.:]+\s+[a-zA-Z][\w.-]*(\s+[\w.-]+)*\s*(#.*)?$/.test(l.text) &&
          parseAddress(nth(l.text.trim().split(/\s+/), 0)) !== null,
      ) &&
      lines.some((l) => /\blocalhost\b/.test(l.text))
      ? 0.93
      : 0;
  },
  read(text) {
    const facts: NotedFact[] = [];
    for (const line of written(text)) {
      const plain = before(line.text, '#').trim();
      const [address, ...names] = plain.split(/\s+/);
      if (address && names.length > 0)
        facts.push({
          kind: 'noted',
          topic: 'hosts',
          once: false,
          at: { line: line.number },
          value: { address, names },
          text: `${names.join(', ')}: ${address}`,
        });
    }
    return { format: 'hosts', facts, problems: [], covers: [] };
  },
};
