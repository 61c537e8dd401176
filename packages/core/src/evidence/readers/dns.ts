import { parseAddress } from '../../net/index.ts';
import type { NameFact, Problem } from '../facts.ts';
import { linesOf, spanOf } from '../text.ts';
import type { Reader } from './reader.ts';

type Status = NameFact['status'];
const STATUSES: readonly Status[] = ['NOERROR', 'NXDOMAIN', 'SERVFAIL', 'REFUSED'];
const statusOf = (word: string): Status => STATUSES.find((s) => s === word) ?? 'OTHER';
const bare = (name: string): string => name.replace(/\.$/, '').toLowerCase();
const RECORD = /^(\S+\.)\s+(\d+)\s+IN\s+([A-Z]+)\s+(.+?)\s*$/;

/** `dig` (RFC 1035 master file lines in its sections). NOERROR without an answer section means: the name has no such record. */
export const dig: Reader = {
  format: 'dig',
  title: 'a DNS answer (dig)',
  recognise: (text) => (/^;; ->>HEADER<<-/m.test(text) ? 0.98 : /^; <<>> DiG /m.test(text) ? 0.9 : 0),
  read(text) {
    const facts: NameFact[] = [];
    const problems: Problem[] = [];
    let status: Status = 'OTHER';
    let question: { name: string; type: string; line: number } | null = null;
    let section = '';
    let answers: { value: string; ttl: number }[] = [];
    let server: string | undefined;
    const flush = (): void => {
      if (question) facts.push({ kind: 'name', at: { line: question.line }, name: question.name, type: question.type, status, answers: answers.map((a) => a.value), ...(answers[0] ? { ttl: answers[0].ttl } : {}), ...(server ? { server } : {}) });
      question = null;
      answers = [];
      server = undefined;
    };
    for (const line of linesOf(text)) {
      const header = /status: (\w+)/.exec(line.text);
      const asked = /^;(\S+\.)\s+IN\s+([A-Z]+)\s*$/.exec(line.text);
      const record = RECORD.exec(line.text);
      const from = /^;; SERVER: ([0-9a-fA-F.:]+?)#\d+/.exec(line.text);
      const head = /^;; (QUESTION|ANSWER|AUTHORITY|ADDITIONAL) SECTION/.exec(line.text);
      if (/^;; ->>HEADER<<-/.test(line.text)) flush();
      if (header) status = statusOf(header[1]!);
      if (head) section = head[1]!;
      if (asked && section === 'QUESTION') question = { name: bare(asked[1]!), type: asked[2]!, line: line.number };
      if (record && section === 'ANSWER') answers.push({ value: bare(record[4]!), ttl: Number(record[2]) });
      if (from) server = from[1]!;
    }
    flush();
    if (facts.length === 0) problems.push({ line: 1, text: text.slice(0, 120), why: 'no question section: the answer is cut off' });
    return { format: 'dig', facts, problems, covers: [] };
  },
};

/** `host`: one sentence a record. */
export const host: Reader = {
  format: 'host',
  title: 'a DNS answer (host)',
  recognise: (text) => (/^\S+ (has (IPv6 )?address|is an alias for|mail is handled by|has SRV record) /m.test(text) || /^Host \S+ not found: \d+\((NXDOMAIN|SERVFAIL|REFUSED)\)/m.test(text) || /^\S+ has no (A|AAAA|SRV|CNAME) record/m.test(text) ? 0.95 : 0),
  read(text) {
    const found = new Map<string, NameFact>();
    const problems: Problem[] = [];
    const server = /^Address: ([0-9a-fA-F.:]+?)#\d+/m.exec(text)?.[1];
    const add = (name: string, type: string, answer: string, line: { number: number; text: string }): void => {
      const before = found.get(`${name} ${type}`);
      if (before) found.set(`${name} ${type}`, { ...before, answers: [...before.answers, answer] });
      else found.set(`${name} ${type}`, { kind: 'name', at: spanOf(line, answer), name, type, status: 'NOERROR', answers: [answer], ...(server ? { server } : {}) });
    };
    for (const line of linesOf(text)) {
      const t = line.text.trim();
      const address = /^(\S+) has (IPv6 )?address (\S+)$/.exec(t);
      const alias = /^(\S+) is an alias for (\S+)$/.exec(t);
      const srv = /^(\S+) has SRV record (.+)$/.exec(t);
      const missing = /^Host (\S+) not found: \d+\((\w+)\)/.exec(t);
      const none = /^(\S+) has no (\w+) record/.exec(t);
      if (address && parseAddress(address[3]!)) add(bare(address[1]!), address[2] ? 'AAAA' : 'A', address[3]!, line);
      else if (alias) add(bare(alias[1]!), 'CNAME', bare(alias[2]!), line);
      else if (srv) add(bare(srv[1]!), 'SRV', bare(srv[2]!), line);
      // One refused question (of AAAA or MX) does not take back the address that another one gave.
      else if (missing && [...found.keys()].some((key) => key.startsWith(`${bare(missing[1]!)} `))) continue;
      else if (missing) found.set(`${bare(missing[1]!)} A`, { kind: 'name', at: spanOf(line, missing[1]!), name: bare(missing[1]!), type: 'A', status: statusOf(missing[2]!), answers: [], ...(server ? { server } : {}) });
      else if (none) found.set(`${bare(none[1]!)} ${none[2]}`, { kind: 'name', at: spanOf(line, none[1]!), name: bare(none[1]!), type: none[2]!, status: 'NOERROR', answers: [], ...(server ? { server } : {}) });
      else if (t !== '' && !/^(Using domain server:|Name: |Address: |Aliases:|.* mail is handled by )/.test(t)) problems.push({ line: line.number, text: t.slice(0, 200), why: 'not a sentence of a name lookup' });
    }
    return { format: 'host', facts: [...found.values()], problems, covers: [] };
  },
};
