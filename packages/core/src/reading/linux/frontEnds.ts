import { nth } from '../../place/index.ts';
import type { Fact } from '../../facts/index.ts';
import { lineAt, listed, once, told, written } from '../noted.ts';
import type { Reader } from '../reader.ts';

/** `nft list tables`: names only. */
export const nftTables: Reader = {
  format: 'nft-tables',
  title: 'names of the firewall tables (nft list tables)',
  recognise(text) {
    const lines = written(text.slice(0, 5000));
    return lines.length > 0 &&
      lines.every((l) => /^table (ip|ip6|inet|arp|bridge|netdev) \S+$/.test(l.text.trim()))
      ? 0.97
      : 0;
  },
  read(text) {
    const names = written(text).map((l) => l.text.trim().replace(/^table /, ''));
    return {
      format: 'nft-tables',
      facts: [once('tables', { line: 1 }, names, names.join(', '))],
      problems: [],
      covers: [],
    };
  },
};

/** The heading of a list of containers, alone or of one project. */
const HEADING = /^(?:CONTAINER ID\s+IMAGE\b|NAME\s+IMAGE\s+COMMAND\s+SERVICE\b)/m;
/** The state of a container that does not run. */
const STOPPED = /\s{2}(?:Exited \(\d+\)|Created|Dead)(?=\s)/;
/** A port of a container that stands alone: known to the container, and not published. */
const INNER = /(?<![\d>-])(\d{1,5})\/(tcp|udp)\b/g;

/** `0.0.0.0:8214->8000/udp`, also as ranges of one length. */
const PUBLISHED = new RegExp(
  String.raw`(?:((?:\d{1,3}\.){3}\d{1,3}|\[?::\]?|\[[0-9a-f:]{2,45}\]):)?` +
    String.raw`(?<!\d)(\d{1,5})(?:-(\d{1,5}))?->(\d{1,5})(?:-(\d{1,5}))?\/(tcp|udp)`,
  'g',
);

/** `docker ps`, `podman ps`, `docker port`: which ports a container engine publishes, and which not. */
export const containerPorts: Reader = {
  format: 'container-ports',
  title: 'published container ports',
  recognise: (text) =>
    HEADING.test(text.slice(0, 2000)) || /^\d+\/(tcp|udp) -> \S+:\d+/m.test(text.slice(0, 2000)) ? 0.95 : 0,
  read(text) {
    const facts: Fact[] = [];
    const isProjectList = /^NAME\s+IMAGE/m.test(text.slice(0, 2000));
    for (const line of written(text)) {
      if (HEADING.test(line.text)) continue;
      const isStopped = STOPPED.test(line.text);
      const cells = line.text.trim().split(/\s{2,}/);
      const isProject = isProjectList && cells.length > 2;
      const name = (isProject ? cells[0] : cells[cells.length - 1]) ?? '';
      if (isStopped) facts.push(listed('stopped', lineAt(line), name, `${name} is stopped`));
      for (const m of line.text.matchAll(PUBLISHED))
        facts.push(
          listed(
            'published',
            lineAt(line),
            {
              container: name,
              address: (m[1] ?? '0.0.0.0').replace(/^\[|\]$/g, ''),
              ports: [Number(m[2]), Number(m[3] ?? m[2])],
              containerPorts: [Number(m[4]), Number(m[5] ?? m[4])],
              protocol: nth(m, 6),
            },
            `${m[6]} ${m[2]} → ${name}:${m[4]}`,
          ),
        );
      if (cells.length > 2)
        for (const m of line.text.matchAll(INNER))
          // Another container may publish it, in front of this one.
          if (!text.includes(`:${m[1]}->`))
            facts.push(
              told(
                'unpublished-port',
                lineAt(line),
                { container: name, port: Number(m[1]), protocol: nth(m, 2) },
                `${m[2]} ${m[1]} of ${name} is not published`,
              ),
            );
      const port = /^(\d+)\/(tcp|udp) -> (\S+):(\d+)/.exec(line.text);
      if (port)
        facts.push(
          listed(
            'published',
            lineAt(line),
            {
              address: nth(port, 3),
              ports: [Number(port[4]), Number(port[4])],
              containerPorts: [Number(port[1]), Number(port[1])],
              protocol: nth(port, 2),
            },
            `${port[2]} ${port[4]} → ${port[1]}`,
          ),
        );
    }
    return { format: 'container-ports', facts, problems: [], covers: [] };
  },
};
