import type { Fact, Problem } from '../../facts/index.ts';
import { linesOf } from '../text.ts';
import { lineAt, once, told, problemAt, written } from '../noted.ts';
import type { Reader } from '../reader.ts';

interface Mapping {
  readonly protocol: string;
  readonly externalPort: number;
  readonly internalAddress: string;
  readonly internalPort: number;
  readonly description: string;
  readonly lease: number;
  readonly granted: boolean;
}

const mappingText = (m: Mapping): string =>
  `${m.protocol.toLowerCase()} ${m.externalPort} → ${m.internalAddress}:${m.internalPort}${m.description ? `, “${m.description}”` : ''}${m.lease > 0 ? `, for ${m.lease} s` : ''}${m.granted ? '' : ', refused'}`;

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
          protocol: row[1]!,
          externalPort: Number(row[2]),
          internalAddress: row[3]!,
          internalPort: Number(row[4]),
          description: row[5]!,
          lease: Number(row[7]),
          granted: true,
        };
        facts.push(told('mapping', at, m, mappingText(m)));
      } else if (external && !/failed/.test(t)) facts.push(told('external-address', at, external[1]!));
      else if (failed) {
        const m = {
          externalPort: Number(failed[1]),
          internalAddress: failed[3]!,
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
              protocol: done[3]!,
              externalPort: Number(done[2]),
              internalAddress: done[4]!,
              internalPort: Number(done[5]),
              lease: Number(done[6]),
              granted: true,
            },
            `${done[3]!.toLowerCase()} ${done[2]} → ${done[4]}:${done[5]}`,
          ),
          told('external-address', at, done[1]!),
        );
      else if (found) facts.push(once('internal', at, `${found[1]}:${found[2]}`));
      else if (/^\s*Local LAN ip address\s*:\s*(\S+)/.test(t))
        facts.push(once('localAddress', at, /:\s*(\S+)/.exec(t)![1]!));
      else if (/No IGD UPnP Device found|no valid UPNP/i.test(t))
        problems.push(problemAt(line, 'no gateway answered the search'));
    }
    return {
      format: 'igd-client',
      facts,
      problems,
      covers: [],
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
        facts.push(told('external-address', at, external[1]!), once('external', at, external[1]!));
      if (mapped)
        facts.push(
          once(
            'request',
            at,
            {
              internalPort: Number(mapped[3]),
              externalPort: Number(mapped[1]),
              protocol: mapped[2]!.toLowerCase(),
              lease: Number(mapped[4]),
            },
            `${mapped[2]!.toLowerCase()} ${mapped[1]} → local ${mapped[3]} for ${mapped[4]} s`,
          ),
        );
      if (
        /does not support nat-pmp|Connection refused/.test(line.text) &&
        !facts.some((f) => f.kind === 'outcome')
      )
        facts.push(told('outcome', at, 'refused: nothing speaks the protocol there'));
      const using = /using gateway : (\S+)/.exec(line.text);
      if (using) facts.push(once('gateway', at, using[1]!));
    }
    if (facts.length === 0)
      problems.push(problemAt(linesOf(text)[0] ?? { number: 1, text }, 'no answer in it'));
    return { format: 'nat-pmp-client', facts, problems, covers: [] };
  },
};

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
        problems.push(problemAt(line, 'not a mapping'));
        continue;
      }
      const value = {
        protocol: m[1]!,
        externalPort: Number(m[2]),
        internalAddress: m[3]!,
        internalPort: Number(m[4]),
        description: m[6]!.trim(),
        ends: Number(m[5]),
        granted: true,
      };
      facts.push(
        told(
          'mapping',
          lineAt(line),
          value,
          `${m[1]!.toLowerCase()} ${m[2]} → ${m[3]}:${m[4]}, “${m[6]!.trim()}”`,
        ),
      );
    }
    return { format: 'mapping-file', facts, problems, covers: [] };
  },
};

const tag = (text: string, name: string): string | null =>
  new RegExp(`<(?:\\w+:)?${name}\\b[^>]*>([^<]*)</(?:\\w+:)?${name}>`).exec(text)?.[1]?.trim() ?? null;

/** SOAP answers of a gateway (IGD:2 WANIPConnection), with the HTTP head or without. */
export const soapAnswer: Reader = {
  format: 'igd-answer',
  title: 'an answer of the gateway (IGD)',
  recognise: (text) => (/<(?:\w+:)?Envelope\b/.test(text) && /<(?:\w+:)?Body>/.test(text) ? 0.97 : 0),
  read(text) {
    const facts: Fact[] = [];
    const line = linesOf(text).find((l) => /Envelope/.test(l.text)) ?? { number: 1, text: '' };
    const at = lineAt(line);
    const error = tag(text, 'errorCode');
    const external = tag(text, 'NewExternalIPAddress');
    if (error)
      facts.push(
        once('errorCode', at, Number(error), `${error} ${tag(text, 'errorDescription') ?? ''}`.trim()),
      );
    if (tag(text, 'errorDescription'))
      facts.push(once('errorDescription', at, tag(text, 'errorDescription')!));
    if (external !== null) facts.push(told('external-address', at, external));
    const client = tag(text, 'NewInternalClient');
    if (client !== null) {
      const m = {
        ...(tag(text, 'NewProtocol') ? { protocol: tag(text, 'NewProtocol')! } : {}),
        ...(tag(text, 'NewExternalPort') ? { externalPort: Number(tag(text, 'NewExternalPort')) } : {}),
        internalAddress: client,
        internalPort: Number(tag(text, 'NewInternalPort') ?? 0),
        description: tag(text, 'NewPortMappingDescription') ?? '',
        lease: Number(tag(text, 'NewLeaseDuration') ?? 0),
        enabled: tag(text, 'NewEnabled') !== '0',
      };
      facts.push(told('mapping-reply', at, m, `${m.internalAddress}:${m.internalPort}`));
    }
    for (const name of [
      'NewConnectionStatus',
      'NewConnectionType',
      'NewUptime',
      'NewLastConnectionError',
      'NewRSIPAvailable',
      'NewReservedPort',
      'NewPortListing',
      'NewWANAccessType',
      'NewPhysicalLinkStatus',
    ]) {
      const value = tag(text, name);
      if (value !== null && value !== '')
        facts.push(
          once(name.charAt(3).toLowerCase() + name.slice(4), at, /^\d+$/.test(value) ? Number(value) : value),
        );
    }
    const nat = tag(text, 'NewNATEnabled');
    if (nat) facts.push(once('natEnabled', at, nat === '1', nat === '1' ? 'yes' : 'no'));
    const kind = /<(?:\w+:)?(\w+)Response\b/.exec(text)?.[1];
    if (kind) facts.push(once('action', at, kind));
    return {
      format: 'igd-answer',
      facts,
      problems: facts.length === 0 ? [problemAt(line, 'the answer holds no value')] : [],
      covers: [],
    };
  },
};

/** A gateway's device description (UPnP Device Architecture), with the HTTP head or without. */
export const deviceDescription: Reader = {
  format: 'device-description',
  title: 'what the gateway says of itself',
  recognise: (text) => (/<root\b[^>]*schemas-upnp-org/.test(text) ? 0.98 : 0),
  read(text) {
    const line = linesOf(text).find((l) => /<root\b/.test(l.text)) ?? { number: 1, text: '' };
    const at = lineAt(line);
    const services = [
      ...new Set([...text.matchAll(/<serviceType>urn:[^:]+:service:([^:<]+)/g)].map((m) => m[1]!)),
    ];
    const name = tag(text, 'friendlyName');
    const status = /^HTTP\/[\d.]+ (\d{3})/.exec(text)?.[1];
    return {
      format: 'device-description',
      problems: [],
      covers: [],
      facts: [
        ...(name ? [once('friendlyName', at, name)] : []),
        once('services', at, services, services.join(', ')),
        ...(status
          ? [once('status', { line: 1 }, Number(status)), once('body', at, 'device description')]
          : []),
      ],
    };
  },
};

/** Answers to an SSDP search (UPnP Device Architecture §1.3.3). */
export const ssdpAnswer: Reader = {
  format: 'ssdp',
  title: 'gateways that answered a search (SSDP)',
  recognise: (text) => (/^LOCATION:\s*http/im.test(text) && /^(ST|USN|NT):/im.test(text) ? 0.96 : 0),
  read(text) {
    const line = linesOf(text).find((l) => /^LOCATION:/i.test(l.text)) ?? { number: 1, text: '' };
    const url = /^LOCATION:\s*(https?:\/\/(\[[^\]]+\]|[^:/\s]+)(?::(\d+))?(\/\S*)?)/i.exec(line.text);
    if (!url)
      return {
        format: 'ssdp',
        facts: [],
        problems: [problemAt(line, 'the location cannot be read')],
        covers: [],
      };
    const answers = [...text.matchAll(/^HTTP\/1\.1 200/gm)].length;
    return {
      format: 'ssdp',
      problems: [],
      covers: [],
      facts: [
        once('location', lineAt(line), url[1]!.slice(0, url[1]!.lastIndexOf('/') + 1)),
        once('locationUrl', lineAt(line), url[1]!),
        once('locationPort', lineAt(line), Number(url[3] ?? 80)),
        once('from', lineAt(line), url[2]!),
        once('answers', lineAt(line), answers),
      ],
    };
  },
};

/** The server that was asked, where the output names it. */
const serverOf = (text: string): string | null =>
  /(?:server|to)\s{0,9}[:=]?\s{0,9}((?:\d{1,3}\.){3}\d{1,3}:\d+)/i.exec(text)?.[1] ?? null;

/** A STUN client's output (RFC 8489): the address that the internet sees. */
export const stunClient: Reader = {
  format: 'stun-client',
  title: 'the address that the internet sees (STUN)',
  recognise: (text) => (/reflexive addr|MappedAddress|Mapped address/i.test(text.slice(0, 3000)) ? 0.96 : 0),
  read(text) {
    const line = linesOf(text).find((l) => /reflexive addr|Mapped ?Address/i.test(l.text)) ?? {
      number: 1,
      text: '',
    };
    const m =
      /(?:reflexive addr(?:ess)?|Mapped ?Address)\s{0,9}[:=]?\s{0,9}((?:\d{1,3}\.){3}\d{1,3}|\[[0-9a-fA-F:]+\])(?::(\d+))?/i.exec(
        line.text,
      );
    if (!m)
      return {
        format: 'stun-client',
        facts: [],
        problems: [problemAt(line, 'the address cannot be read')],
        covers: [],
      };
    const address = m[1]!.replace(/^\[|\]$/g, '');
    return {
      format: 'stun-client',
      problems: [],
      covers: [],
      facts: [
        ...(serverOf(text) ? [once('server', lineAt(line), serverOf(text)!)] : []),
        once('reflexiveAddress', lineAt(line), address),
        {
          kind: 'labelled',
          what: 'seen-address',
          label: 'seen by a STUN server',
          value: address,
          at: { line: line.number, column: m.index, endColumn: m.index + m[0].length },
        },
      ],
    };
  },
};
