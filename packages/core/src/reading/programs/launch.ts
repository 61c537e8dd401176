import type { Fact } from '../../facts/index.ts';
import { parseAddress } from '../../net/index.ts';
import { nth } from '../../place/index.ts';
import { lineAt, told, written } from '../noted.ts';
import type { Reader } from '../reader.ts';
import type { Line } from '../text.ts';

/** Settings of a program in one line: `-Port=28410 -MultiHome=192.168.50.20`, `(PublicPort=28410,…)`. */
const PAIRS = new RegExp(
  String.raw`(?<=[-+(,?\s]|^)([A-Za-z][\w.-]{0,40}(?:port|ip|host|home|address|bind)|port|ip|` +
    String.raw`multihome)\s?=\s?"?([\w.:[\]-]{1,64})"?`,
  'gi',
);
const ONE_LINE = /^\s*\w+\s?=\s?\([^=]+=.*\)\s*$/;
const COMMAND = /(?:^|\s)[-+?]{1,2}(?:[a-z]{0,20}port|multihome|ip)\s?=\s?"?[\w.:]+/i;

/** A program's settings in one line: those of a command line, or in brackets. */
export const launchLine: Reader = {
  format: 'launch-line',
  title: 'a program’s settings in one line',
  most: 0.5,
  recognise: (text) => {
    const lines = written(text.slice(0, 20_000));
    const hits = lines.filter(
      (l) => (ONE_LINE.test(l.text) || COMMAND.test(l.text)) && factsOf(l).length > 0,
    );
    return hits.length > 0 && hits.length * 2 >= lines.length ? 0.5 : 0;
  },
  read: (text) => ({
    format: 'launch-line',
    facts: written(text).flatMap(factsOf),
    problems: [],
    covers: [],
  }),
};

function factsOf(line: Line): Fact[] {
  return [...line.text.matchAll(PAIRS)].flatMap((m): Fact[] => {
    const [key, said] = [nth(m, 1), nth(m, 2)];
    const isPort = /port$/i.test(key);
    const value = isPort ? Number(said) : said;
    if (isPort ? !/^\d{1,5}$/.test(said) || Number(said) > 65535 || value === 0 : !parseAddress(said))
      return [];
    return [told('program-setting', lineAt(line), { key, value }, `${key} = ${said}`)];
  });
}
