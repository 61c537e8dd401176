import { nth } from '../../place/index.ts';
import type { Fact, ListenRecord } from '../../facts/index.ts';
import { linesOf } from '../text.ts';
import { lineAt, told, written } from '../noted.ts';
import type { Reader } from '../reader.ts';

const LISTEN = /^\s*listen\s+([^\s;][^;]*);/;

/** nginx: the `listen` lines of all servers, and `allow`/`deny`; whole files or `nginx -T`. */
export const nginxConf: Reader = {
  format: 'nginx-conf',
  title: 'where nginx listens',
  recognise: (text) =>
    written(text).some((l) => LISTEN.test(l.text)) && /\bserver\s*\{|\bserver_name\b|\bhttp\s*\{/.test(text)
      ? 0.97
      : 0,
  read(text) {
    const facts: Fact[] = [];
    const seen = new Set<string>();
    for (const line of linesOf(text)) {
      const m = LISTEN.exec(line.text);
      const access = /^\s*(allow|deny)\s+([^\s;][^;]*);/.exec(line.text);
      if (access)
        facts.push(
          told(
            'program-access',
            lineAt(line),
            { action: nth(access, 1), from: nth(access, 2).trim() },
            `${access[1]} ${nth(access, 2).trim()}`,
          ),
        );
      const value = m ? listenValue(nth(m, 1).trim()) : null;
      const key = JSON.stringify(value);
      if (!value || seen.has(key)) continue;
      seen.add(key);
      facts.push(told('listen', lineAt(line), value, nth(m!, 1).trim()));
    }
    return { format: 'nginx-conf', facts, problems: [], covers: [] };
  },
};

/** `80`, `[::]:80`, `192.168.50.20:8443 ssl`, `*:80`, `localhost`. */
function listenValue(text: string): ListenRecord | null {
  const [place] = text.split(/\s+/);
  if (!place || place.startsWith('unix:')) return null;
  const six = /^\[([0-9a-fA-F:.]+)\](?::(\d+))?$/.exec(place);
  const flags = {
    ...(/\bssl\b/.test(text) ? { tls: true } : {}),
    ...(/\b(?:udp|quic)\b/.test(text) ? { protocol: 'udp' } : {}),
  };
  if (six) return { port: Number(six[2] ?? 80), family: 6, address: nth(six, 1), ...flags };
  if (/^\d+$/.test(place)) return { port: Number(place), family: 4, ...flags };
  const four = /^(\*|[\w.-]+?)(?::(\d+))?$/.exec(place);
  if (!four) return null;
  return {
    port: Number(four[2] ?? 80),
    ...(four[1] === '*' ? { family: 4 } : { address: nth(four, 1), family: 4 }),
    ...flags,
  };
}
