import { nth } from '../../place/index.ts';
import type { Fact, Problem } from '../../facts/index.ts';
import { lineAt, told, problemAt, written } from '../noted.ts';
import type { Reader } from '../reader.ts';

/** The gateway daemon's own file: `PROTOCOL:outside:inside address:inside port:ends:description`. */
export const mappingFile: Reader = {
  format: 'mapping-file',
  title: 'mappings that the gateway keeps',
  recognise(text) {
    const lines = written(text.slice(0, 5000));
    return lines.length > 0 &&
      lines.filter((l) => /^(TCP|UDP):\d+:[0-9a-fA-F.]+:\d+:\d+:/.test(l.text)).length * 2 > lines.length
      ? 0.97
      : 0;
  },
  read(text) {
    const facts: Fact[] = [];
    const problems: Problem[] = [];
    for (const line of written(text)) {
      const m = /^(TCP|UDP):(\d+):([0-9a-fA-F.]+):(\d+):(\d+):(.*)$/.exec(line.text);
      if (!m) {
        problems.push(problemAt(line, 'no-mapping'));
        continue;
      }
      const value = {
        protocol: nth(m, 1),
        externalPort: Number(m[2]),
        internalAddress: nth(m, 3),
        internalPort: Number(m[4]),
        description: nth(m, 6).trim(),
        ends: Number(m[5]),
        granted: true,
      };
      facts.push(
        told(
          'mapping',
          lineAt(line),
          value,
          `${nth(m, 1).toLowerCase()} ${m[2]} → ${m[3]}:${m[4]}, “${nth(m, 6).trim()}”`,
        ),
      );
    }
    return { format: 'mapping-file', facts, problems, covers: [] };
  },
};
