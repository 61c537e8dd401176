import { expect } from 'chai';
import { caseFacts, serverEvidence } from '../../testing/index.ts';
import { formOf, isSettingsKind } from '../../devices/index.ts';
import { startingRows } from './startingRows.ts';

const PATH = [
  { id: 'client', role: 'client' },
  { id: 'gateway', role: 'gateway' },
  { id: 'host', role: 'host' },
];
const SERVICE = {
  service: {
    name: 'Gullcast',
    endpoints: [
      { protocol: 'tcp', port: 8214 },
      { protocol: 'udp', port: 28410, portEnd: 28415 },
    ],
    audience: ['198.51.100.0/24'],
  },
  client: { dials: '203.0.113.50:8214' },
};

describe('rows to begin a device with', () => {
  const facts = caseFacts(PATH, serverEvidence('192.168.50.20/24', '192.168.50.1', []), SERVICE);

  it('a forward for each endpoint, to the server', () =>
    expect(startingRows(facts)['forward-table']?.['rows']).to.deep.equal([
      { name: 'Gullcast', protocol: 'tcp', ports: '8214', to: '192.168.50.20', enabled: 'yes' },
      { name: 'Gullcast', protocol: 'udp', ports: '28410-28415', to: '192.168.50.20', enabled: 'yes' },
    ]));

  it('lists let in whom the service is meant for, and nobody else', () =>
    expect(startingRows(facts)['allow-list']?.['lists']?.[0]).to.deep.include({
      ports: '8214',
      sources: '198.51.100.0/24',
    }));

  it('a translation of the dialled address', () =>
    expect(startingRows(facts)['zone-firewall']?.['translations']?.[0]).to.deep.include({
      type: 'port-forward',
      outside: '203.0.113.50',
      to: '192.168.50.20',
    }));

  it('what is not known stays empty', () => {
    const bare = startingRows(caseFacts(PATH, {}, { service: SERVICE.service }));
    expect(bare['forward-table']?.['rows']?.[0]).to.deep.include({ to: '' });
    expect(startingRows(caseFacts(PATH))['forward-table']).to.deep.equal({ rows: [] });
  });

  it('has values for fields only that the form of its kind has', () => {
    for (const [kind, tables] of Object.entries(startingRows(facts)))
      for (const [key, rows] of Object.entries(tables)) {
        const table = isSettingsKind(kind) && formOf(kind).tables.find((t) => t.key === key);
        const columns = table ? table.columns.map((c) => c.key) : [];
        for (const row of rows) expect(columns, `${kind} ${key}`).to.include.members(Object.keys(row));
      }
  });
});
