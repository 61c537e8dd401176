import { nth } from '../../place/index.ts';
import type { Fact, Gap, Problem } from '../../facts/index.ts';
import { linesOf } from '../text.ts';
import { lineAt, once, told, problemAt } from '../noted.ts';
import type { Reader } from '../reader.ts';

interface Mapping {
  readonly protocol: string;
  readonly externalPort: number;
  readonly internalAddress: string;
  readonly internalPort: number;
  readonly description: string;
  readonly remoteHost: string;
  readonly lease: number;
  readonly granted: boolean;
}

/** The heading, and the word that the list has ended. */
const NO_ROW = /^\s*\d+\s+GetGenericPortMappingEntry|exPort->inAddr/;

const mappingText = (m: Mapping): string =>
  `${m.protocol.toLowerCase()} ${m.externalPort} → ` +
  `${m.internalAddress}:${m.internalPort}${m.description ? `, “${m.description}”` : ''}` +
  `${m.lease > 0 ? `, for ${m.lease} s` : ''}${m.granted ? '' : ', refused'}`;

/**
 * An IGD client's output: the outside address, the list of mappings, and what came of asking for one. A
 * trailing 713 ends the list.
 */
export const igdClient: Reader = {
  format: 'igd-client',
  title: 'mappings of the gateway, as an IGD client lists them',
  recognise: (text) =>
    /^[ \t]*i protocol exPort->inAddr:inPort/m.test(text) ||
    /^List of UPNP devices found|^Found valid IGD|^(ExternalIPAddress = |AddPortMapping\()/m.test(text)
      ? 0.97
      : 0,
  read(text) {
    const facts: Fact[] = [];
    const problems: Problem[] = [];
    const unread: Problem[] = [];
    const isList = /^[ \t]*i protocol exPort/m.test(text);
    for (const line of linesOf(text)) {
      const t = line.text;
      const at = lineAt(line);
      const row = /^\s*\d+\s+(TCP|UDP)\s+(\d+)->([0-9a-fA-F.:]+):(\d+)\s+'(.*?)'\s+'(.*?)'\s+(\d+)\s*$/.exec(
        t,
      );
      const external = /ExternalIPAddress = (\S+)/.exec(t);
      const failed = /^AddPortMapping\((\d+), (\d+), (\S+)\) failed with code (\d+)/.exec(t.trim());
      const done =
        /^external (\S+):(\d+) (TCP|UDP) is redirected to internal (\S+):(\d+) \(duration=(\d+)\)/.exec(
          t.trim(),
        );
      const found = /^InternalIP:Port = (\S+):(\d+)/.exec(t.trim());
      if (row) {
        const m: Mapping = {
          protocol: nth(row, 1),
          externalPort: Number(row[2]),
          internalAddress: nth(row, 3),
          internalPort: Number(row[4]),
          description: nth(row, 5),
          remoteHost: nth(row, 6),
          lease: Number(row[7]),
          granted: true,
        };
        facts.push(told('mapping', at, m, mappingText(m)));
      } else if (external && !/failed/.test(t)) facts.push(told('external-address', at, nth(external, 1)));
      else if (failed) {
        const m = {
          externalPort: Number(failed[1]),
          internalAddress: nth(failed, 3),
          internalPort: Number(failed[2]),
          granted: false,
          error: Number(failed[4]),
        };
        facts.push(
          told(
            'mapping-reply',
            at,
            m,
            `${m.externalPort} → ${m.internalAddress}:${m.internalPort}: refused with ${m.error}`,
          ),
        );
      } else if (done)
        facts.push(
          told(
            'mapping-reply',
            at,
            {
              protocol: nth(done, 3),
              externalPort: Number(done[2]),
              internalAddress: nth(done, 4),
              internalPort: Number(done[5]),
              lease: Number(done[6]),
              granted: true,
            },
            `${nth(done, 3).toLowerCase()} ${done[2]} → ${done[4]}:${done[5]}`,
          ),
          told('external-address', at, nth(done, 1)),
        );
      else if (found) facts.push(once('internal', at, `${found[1]}:${found[2]}`));
      else if (/^\s*Local LAN ip address\s*:\s*(\S+)/.test(t))
        facts.push(once('localAddress', at, nth(/:\s*(\S+)/.exec(t)!, 1)));
      else if (/No IGD UPnP Device found|no valid UPNP/i.test(t))
        problems.push(problemAt(line, 'no-gateway-answered'));
      else if (/^\s*\d+\s+\S|\S->\S/.test(t) && !NO_ROW.test(t))
        unread.push(problemAt(line, 'mapping-unreadable'));
    }
    problems.push(...unread);
    const gaps: Gap[] = [
      ...(isList ? [] : (['no-heading'] as const)),
      ...(unread.length > 0 ? (['unread'] as const) : []),
    ];
    return {
      format: 'igd-client',
      facts,
      problems,
      covers: facts.some((f) => f.kind === 'mapping') || isList || problems.length > 0 ? ['mappings'] : [],
      ...(gaps.length > 0 ? { gaps } : {}),
    };
  },
};

/** A NAT-PMP client's output (RFC 6886): the outside address, and the mapping that was granted. */
export const natPmpClient: Reader = {
  format: 'nat-pmp-client',
  title: 'a NAT-PMP answer',
  recognise: (text) => (/^initnatpmp\(\) returned|readnatpmpresponseorretry/m.test(text) ? 0.97 : 0),
  read(text) {
    const facts: Fact[] = [];
    const problems: Problem[] = [];
    for (const line of linesOf(text)) {
      const at = lineAt(line);
      const external = /Public IP address : (\S+)/.exec(line.text);
      const mapped = /Mapped public port (\d+) protocol (\w+) to local port (\d+) lif?e?time (\d+)/.exec(
        line.text,
      );
      if (external)
        facts.push(told('external-address', at, nth(external, 1)), once('external', at, nth(external, 1)));
      if (mapped)
        facts.push(
          once(
            'request',
            at,
            {
              internalPort: Number(mapped[3]),
              externalPort: Number(mapped[1]),
              protocol: nth(mapped, 2).toLowerCase(),
              lease: Number(mapped[4]),
            },
            `${nth(mapped, 2).toLowerCase()} ${mapped[1]} → local ${mapped[3]} for ${mapped[4]} s`,
          ),
        );
      if (
        /does not support nat-pmp|Connection refused/.test(line.text) &&
        !facts.some((f) => f.kind === 'outcome')
      )
        facts.push(told('outcome', at, 'refused: nothing speaks the protocol there'));
      const using = /using gateway : (\S+)/.exec(line.text);
      if (using) facts.push(once('gateway', at, nth(using, 1)));
    }
    if (facts.length === 0) problems.push(problemAt(linesOf(text)[0] ?? { number: 1, text }, 'no-answer'));
    return { format: 'nat-pmp-client', facts, problems, covers: [] };
  },
};
