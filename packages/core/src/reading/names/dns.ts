import { nth } from '../../place/index.ts';
import { parseAddress } from '../../net/index.ts';
import type { NameFact, NotedFact, Plain, Problem } from '../../facts/index.ts';
import { linesOf, spanOf } from '../text.ts';
import { once } from '../noted.ts';
import type { Reader } from '../reader.ts';
import { answerFacts, type Answer } from './lookups.ts';

type Status = NameFact['status'];

const STATUSES: readonly Status[] = ['NOERROR', 'NXDOMAIN', 'SERVFAIL', 'REFUSED'];

export const statusOf = (word: string): Status => STATUSES.find((s) => s === word) ?? 'OTHER';

export const bare = (name: string): string => name.replace(/\.$/, '').toLowerCase();

const RECORD = /^(\S+\.)\s+(\d+)\s+IN\s+([A-Z]+)\s+(\S.*)/;

/**
 * `dig` (RFC 1035 master file lines in its sections). NOERROR without an answer section means: the name has
 * no such record.
 */
export const dig: Reader = {
  format: 'dig',
  title: 'a DNS answer (dig)',
  recognise: (text) => {
    if (/^;; ->>HEADER<<-/m.test(text)) return 0.98;
    return /^; <<>> DiG /m.test(text) ? 0.9 : 0;
  },
  read(text) {
    const facts: (NameFact | NotedFact)[] = [];
    const problems: Problem[] = [];
    let status: Status = 'OTHER';
    let question: { name: string; type: string; line: number } | null = null;
    let section = '';
    let answers: (Answer & { raw: string; ttl: number })[] = [];
    let server: string | undefined;
    const flush = (): void => {
      // An answer whose question was left out speaks for each of its records.
      if (!question) facts.push(...answerFacts(answers));
      const of = (type: string) => answers.filter((a) => a.type === type);
      const own = question ? of(question.type) : [];
      const services = question?.type === 'SRV' ? own.flatMap((a) => serviceOf(a.raw) ?? []) : [];
      if (question)
        facts.push({
          kind: 'name',
          at: { line: question.line },
          name: question.name,
          type: question.type,
          status,
          answers: own.map((a) => a.value),
          ...(question.type !== 'CNAME' && of('CNAME').length > 0 ? { cname: of('CNAME').pop()!.raw } : {}),
          ...(services.length > 0 ? { services } : {}),
          ...(answers[0] ? { ttl: answers[0].ttl } : {}),
          ...(server ? { server } : {}),
        });
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
      if (header) status = statusOf(nth(header, 1));
      if (head) section = nth(head, 1);
      if (asked && section === 'QUESTION')
        question = { name: bare(nth(asked, 1)), type: nth(asked, 2), line: line.number };
      if (record && section === 'ANSWER')
        answers.push({
          name: bare(nth(record, 1)),
          line,
          type: nth(record, 3),
          raw: nth(record, 4),
          value: /^(PTR|MX|NS|TXT)$/.test(nth(record, 3)) ? nth(record, 4) : bare(nth(record, 4)),
          ttl: Number(record[2]),
        });
      if (/no servers could be reached|connection timed out/.test(line.text) && !question) {
        const asked = /^; <<>> DiG \S+ <<>> (?:.*\s)?((?:[\w-]+\.)+[\w-]+)/m.exec(text)?.[1];
        return {
          format: 'dig',
          facts: [
            once('outcome', { line: line.number }, 'no servers could be reached'),
            ...(asked ? [once('name', { line: 1 }, bare(asked))] : []),
          ],
          problems,
          covers: [],
        };
      }
      if (from) server = nth(from, 1);
    }
    flush();
    if (facts.length === 0) problems.push({ line: 1, text: text.slice(0, 120), why: 'no-question' });
    return { format: 'dig', facts, problems, covers: [] };
  },
};

/** `10 5 8211 play.example.net.`: priority, weight, port, target (RFC 2782). */
export function serviceOf(text: string): NonNullable<NameFact['services']>[number] | null {
  const m = /^(\d+) (\d+) (\d+) (\S+)$/.exec(text.trim());
  return m ? { priority: Number(m[1]), weight: Number(m[2]), port: Number(m[3]), target: nth(m, 4) } : null;
}

/** `dig +short`: answers only; which name was asked is not in it. */
export const digShort: Reader = {
  format: 'dig-short',
  title: 'DNS answers without their question (dig +short)',
  recognise(text) {
    const lines = linesOf(text.slice(0, 5000)).filter((l) => l.text.trim() !== '');
    const plain = (t: string): boolean =>
      parseAddress(t) !== null || serviceOf(t) !== null || /^[\w-]+(\.[\w-]+)+\.$/.test(t);
    return lines.length > 0 && lines.length <= 40 && lines.every((l) => plain(l.text.trim())) ? 0.75 : 0;
  },
  read(text) {
    const lines = linesOf(text).filter((l) => l.text.trim() !== '');
    const services = lines.flatMap((l) => serviceOf(l.text) ?? []);
    const values: Plain[] =
      services.length > 0 ? services.map((s) => ({ ...s })) : lines.map((l) => l.text.trim());
    return {
      format: 'dig-short',
      facts: [
        once('answers', { line: lines[0]?.number ?? 1 }, values, lines.map((l) => l.text.trim()).join(', ')),
      ],
      problems: [],
      covers: [],
    };
  },
};

/** `host`: one sentence a record. */
export const host: Reader = {
  format: 'host',
  title: 'a DNS answer (host)',
  recognise: (text) =>
    /^\S+ (has (IPv6 )?address|is an alias for|mail is handled by|has SRV record) /m.test(text) ||
    /^Host \S+ not found: \d+\((NXDOMAIN|SERVFAIL|REFUSED)\)/m.test(text) ||
    /^\S+ has no (A|AAAA|SRV|CNAME) record/m.test(text)
      ? 0.95
      : 0,
  read(text) {
    const found = new Map<string, NameFact>();
    const problems: Problem[] = [];
    const server = /^Address: ([0-9a-fA-F.:]+?)#\d+/m.exec(text)?.[1];
    const add = (
      name: string,
      type: string,
      answer: string,
      line: { number: number; text: string },
    ): void => {
      const before = found.get(`${name} ${type}`);
      if (before) found.set(`${name} ${type}`, { ...before, answers: [...before.answers, answer] });
      else
        found.set(`${name} ${type}`, {
          kind: 'name',
          at: spanOf(line, answer),
          name,
          type,
          status: 'NOERROR',
          answers: [answer],
          ...(server ? { server } : {}),
        });
    };
    for (const line of linesOf(text)) {
      const t = line.text.trim();
      const address = /^(\S+) has (IPv6 )?address (\S+)$/.exec(t);
      const alias = /^(\S+) is an alias for (\S+)$/.exec(t);
      const srv = /^(\S+) has SRV record (.+)$/.exec(t);
      const missing = /^Host (\S+) not found: \d+\((\w+)\)/.exec(t);
      const none = /^(\S+) has no (\w+) record/.exec(t);
      if (address && parseAddress(nth(address, 3)))
        add(bare(nth(address, 1)), address[2] ? 'AAAA' : 'A', nth(address, 3), line);
      else if (alias) add(bare(nth(alias, 1)), 'CNAME', bare(nth(alias, 2)), line);
      else if (srv) add(bare(nth(srv, 1)), 'SRV', bare(nth(srv, 2)), line);
      // One refused question (of AAAA or MX) does not take back the address that another one gave.
      else if (missing && [...found.keys()].some((key) => key.startsWith(`${bare(nth(missing, 1))} `)))
        continue;
      else if (missing)
        found.set(`${bare(nth(missing, 1))} A`, {
          kind: 'name',
          at: spanOf(line, nth(missing, 1)),
          name: bare(nth(missing, 1)),
          type: 'A',
          status: statusOf(nth(missing, 2)),
          answers: [],
          ...(server ? { server } : {}),
        });
      else if (none)
        found.set(`${bare(nth(none, 1))} ${none[2]}`, {
          kind: 'name',
          at: spanOf(line, nth(none, 1)),
          name: bare(nth(none, 1)),
          type: nth(none, 2),
          status: 'NOERROR',
          answers: [],
          ...(server ? { server } : {}),
        });
      else if (
        t !== '' &&
        !/^(Using domain server:|Name: |Address: |Aliases:|.* mail is handled by )/.test(t)
      )
        problems.push({ line: line.number, text: t.slice(0, 200), why: 'no-lookup-line' });
    }
    return { format: 'host', facts: [...found.values()], problems, covers: [] };
  },
};
