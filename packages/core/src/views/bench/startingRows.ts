import { nth } from '../../place/index.ts';
import type { CaseDocument } from '../../case/index.ts';
import type { SettingsKind } from '../../devices/index.ts';
import { factsOf, type CaseFacts } from '../../ledger/index.ts';
import { parseDialled } from '../../intake/index.ts';
import { parseAddress } from '../../net/index.ts';

/** A row as a form holds it: texts only. */
export type FormRow = Readonly<Record<string, string>>;

/** Rows to begin with, by kind of device and table: what the service needs there. */
export type StartingRows = Readonly<
  Partial<Record<SettingsKind, Readonly<Record<string, readonly FormRow[]>>>>
>;

/** What the service of a case needs of each kind of device, to be kept with one click instead of typed. */
export function startingRows(facts: CaseFacts): StartingRows {
  const { document } = facts;
  const to = serverAddress(facts);
  const rows = (document.service?.endpoints ?? []).map((e) => {
    const ports = e.portEnd === undefined || e.portEnd === e.port ? `${e.port}` : `${e.port}-${e.portEnd}`;
    return { protocol: e.protocol, ports, name: document.service?.name ?? '' };
  });
  const audience = meantFor(document);
  const dialled = parseDialled(document.client?.dials ?? '')?.host ?? '';
  const outside = parseAddress(dialled) ? dialled : '';
  const forwards = rows.map((r) => ({ ...r, to, enabled: 'yes' }));
  return {
    'forward-table': { rows: forwards },
    carrier: { portal: forwards },
    'zone-firewall': {
      translations: forwards.map((r) => ({ ...r, type: 'port-forward', outside })),
      rules: rows.map((r) => ({
        name: r.name,
        action: 'allow',
        services: `${r.protocol}/${r.ports}`,
        sources: audience === 'any' ? '' : audience,
        enabled: 'yes',
      })),
    },
    'translation-lines': {
      lines: rows.map((r) => ({
        type: 'port',
        protocol: r.protocol,
        outside,
        outsidePort: nth(r.ports.split('-'), 0),
        inside: to,
      })),
    },
    'allow-list': { lists: rows.map((r) => ({ ...r, sources: audience })) },
    'host-profiles': {
      rows: rows.map((r) => ({
        name: r.name,
        direction: 'in',
        action: 'allow',
        protocol: r.protocol,
        localPorts: r.ports,
        remoteAddresses: audience,
        enabled: 'yes',
      })),
    },
  };
}

/** The server's own address inside; empty where it is not known. */
function serverAddress(facts: CaseFacts): string {
  const server = facts.document.path.find((s) => s.role === 'host');
  const own = factsOf(facts, 'address').find(
    (a) =>
      a.stop === server?.id &&
      a.fact.scope !== 'host' &&
      a.fact.scope !== 'link' &&
      !a.fact.address.includes(':'),
  );
  return own?.fact.address ?? '';
}

function meantFor({ service }: CaseDocument): string {
  const { audience } = service ?? {};
  return Array.isArray(audience) ? audience.join(', ') : 'any';
}
