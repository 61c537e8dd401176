import { nth } from '../../place/index.ts';
import { parsePrefix } from '../../net/index.ts';
import type { Fact } from '../../facts/index.ts';
import { linesOf } from '../text.ts';
import { lineAt, told, written } from '../noted.ts';
import type { Reader } from '../reader.ts';

const KEYS = new RegExp(
  String.raw`^(?:.*[._-])?(?:server|query|rcon|game|public|listen|bind|http|https|external|` +
    String.raw`published|announced?|host|local|network|udp|tcp)?[._-]?(port|ports|ip|host|address|` +
    String.raw`bind|listen|url|ip_address|bind_address|endpoint)$`,
  'i',
);

/**
 * A program's own settings in general: `key=value`, `key: value`, JSON or XML attributes; only what names
 * ports and addresses counts.
 */
export const programConfig: Reader = {
  format: 'program-config',
  title: 'a program’s own settings',
  most: 0.42,
  recognise(text) {
    const head = text.slice(0, 50_000);
    const hits = linesOf(head).filter((l) => pairOf(l.text) !== null).length;
    return hits >= 1 &&
      (/^[\w.-]+\s*=\s*\S/m.test(head) ||
        /^[ \t]*"[\w.-]+"[ \t]*:/m.test(head) ||
        /^[ \t]*[\w-]+:[ \t]+\S/m.test(head) ||
        /<property\b|<\w*[Pp]ort\b/.test(head) ||
        ATTRIBUTES.test(head)) &&
      written(head).length >= 2
      ? 0.42
      : 0;
  },
  read(text) {
    const facts: Fact[] = [];
    for (const line of linesOf(text)) {
      const pair = pairOf(line.text);
      if (pair)
        facts.push(
          told(
            'program-setting',
            lineAt(line),
            { key: pair.key, value: pair.value },
            `${pair.key} = ${pair.value}`,
          ),
        );
    }
    return { format: 'program-config', facts, problems: [], covers: [] };
  },
};

/** `ControlPanelPort`, `publicAddress`. */
const CAMEL = /[a-z](?:Port|Address|Ip|IP|Host|Bind)$/;
/** An element that says where to listen: `<Listen address="192.168.50.20" port="8211"/>`. */
const ATTRIBUTES = /<\w+\s(?:[\w-]+="[^"]*"\s+)*?((?:\w{0,20}[Pp]ort))="(\d{1,5})"/;

/** A key that names a port or an address, with a value that is one. */
function pairOf(text: string): { key: string; value: string | number } | null {
  if (/^\s*(#|;|\/\/|<!--)/.test(text)) return null;
  const m =
    ATTRIBUTES.exec(text) ??
    /^"?([A-Za-z][\w.-]{1,40})"?[ \t]{0,40}[=:]([^",;]{1,200}|[ \t]{0,40}"[^",;]{1,200}"[ \t]{0,40}),?$/.exec(
      text.trim(),
    ) ??
    /<property\s+name="([\w.-]+)"\s+value="([^"]*)"/.exec(text) ??
    /<([A-Za-z]\w*)>([^<]+)<\/\1>/.exec(text);
  if (!m || !(KEYS.test(nth(m, 1)) || CAMEL.test(nth(m, 1)))) return null;
  const value = nth(m, 2)
    .replace(/\s#.*$/, '')
    .trim()
    .replace(/^"|"$/g, '')
    .trim();
  if (/^\d{2,5}$/.test(value) && Number(value) <= 65535) return { key: nth(m, 1), value: Number(value) };
  return parsePrefix(value) || /^[\w-]+(\.[\w-]+)+(:\d+)?$/.test(value) || /^localhost$/.test(value)
    ? { key: nth(m, 1), value }
    : null;
}
