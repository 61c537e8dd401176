import { nth } from '../../place/index.ts';
import type { Fact } from '../../facts/index.ts';
import { linesOf } from '../text.ts';
import { lineAt, once, told, problemAt } from '../noted.ts';
import { xmlElements, xmlValues } from '../xml.ts';
import type { Reader } from '../reader.ts';

/** SOAP answers of a gateway (IGD:2 WANIPConnection), with the HTTP head or without. */
export const soapAnswer: Reader = {
  format: 'igd-answer',
  title: 'an answer of the gateway (IGD)',
  recognise: (text) => (/<(?:\w+:)?Envelope\b/.test(text) && /<(?:\w+:)?Body>/.test(text) ? 0.97 : 0),
  read(text) {
    const facts: Fact[] = [];
    const line = linesOf(text).find((l) => /Envelope/.test(l.text)) ?? { number: 1, text: '' };
    const at = lineAt(line);
    const elements = xmlElements(text);
    const values = xmlValues(text);
    const error = values.get('errorCode');
    const external = values.get('NewExternalIPAddress');
    const description = values.get('errorDescription');
    if (error) facts.push(once('errorCode', at, Number(error), `${error} ${description ?? ''}`.trim()));
    if (description) facts.push(once('errorDescription', at, description));
    if (external !== undefined) facts.push(told('external-address', at, external));
    const client = values.get('NewInternalClient');
    if (client !== undefined) {
      const protocol = values.get('NewProtocol');
      const outside = values.get('NewExternalPort');
      const m = {
        ...(protocol ? { protocol } : {}),
        ...(outside ? { externalPort: Number(outside) } : {}),
        internalAddress: client,
        internalPort: Number(values.get('NewInternalPort') ?? 0),
        description: values.get('NewPortMappingDescription') ?? '',
        lease: Number(values.get('NewLeaseDuration') ?? 0),
        enabled: values.get('NewEnabled') !== '0',
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
      const value = values.get(name);
      if (value)
        facts.push(
          once(name.charAt(3).toLowerCase() + name.slice(4), at, /^\d+$/.test(value) ? Number(value) : value),
        );
    }
    const nat = values.get('NewNATEnabled');
    if (nat) facts.push(once('natEnabled', at, nat === '1', nat === '1' ? 'yes' : 'no'));
    const kind = elements.map((e) => /^(\w+)Response$/.exec(e.name)?.[1]).find((k) => k !== undefined);
    if (kind) facts.push(once('action', at, kind));
    return {
      format: 'igd-answer',
      facts,
      problems: facts.length === 0 ? [problemAt(line, 'no-value')] : [],
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
      ...new Set(
        xmlElements(text).flatMap((e) => {
          const service = /^urn:[^:]+:service:([^:]+)/.exec(e.text)?.[1];
          return e.name === 'serviceType' && service !== undefined ? [service] : [];
        }),
      ),
    ];
    const name = xmlValues(text).get('friendlyName');
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
        problems: [problemAt(line, 'location-unreadable')],
        covers: [],
      };
    const answers = [...text.matchAll(/^HTTP\/1\.1 200/gm)].length;
    return {
      format: 'ssdp',
      problems: [],
      covers: [],
      facts: [
        once('location', lineAt(line), nth(url, 1).slice(0, nth(url, 1).lastIndexOf('/') + 1)),
        once('locationUrl', lineAt(line), nth(url, 1)),
        once('locationPort', lineAt(line), Number(url[3] ?? 80)),
        once('from', lineAt(line), nth(url, 2)),
        once('answers', lineAt(line), answers),
      ],
    };
  },
};

/** The server that was asked, where the output names it. */
export const serverOf = (text: string): string | null =>
  /(?:server|to)\s{0,9}[:=]?\s{0,9}((?:\d{1,3}\.){3}\d{1,3}:\d+)/i.exec(text)?.[1] ?? null;
