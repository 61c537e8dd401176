import { expect } from 'chai';
import { formOf } from '../kinds.ts';
import { formProblems } from './problems.ts';

describe('what is wrong with a form, as one types', () => {
  const check = (rows: readonly Record<string, string>[], fields: Record<string, string> = {}) =>
    formProblems(formOf('forward-table'), 'forward-table', { fields, tables: { rows } });
  const good = { protocol: 'tcp', ports: '8214', to: '192.168.50.20' };

  it('nothing, where every value can be read', () => expect(check([good])).to.deep.equal({}));

  it('names the row and the field, empty rows counted', () =>
    expect(check([{}, good, { ...good, to: '192.168.50' }])).to.deep.equal({
      'rows/2/to': 'Is not an IP address',
    }));

  it('names a field of the device', () =>
    expect(check([], { exposedHost: 'printer' })).to.deep.equal({ exposedHost: 'Is not an IP address' }));

  it('says nothing of what is not typed yet', () => expect(check([{ protocol: 'tcp' }])).to.deep.equal({}));

  it('names the table where its rows stand under names', () =>
    expect(
      Object.keys(
        formProblems(formOf('zone-firewall'), 'zone-firewall', {
          fields: {},
          tables: { interfaces: [{ name: 'wan', side: 'outside', addresses: '203.0.113' }] },
        }),
      ),
    ).to.deep.equal(['interfaces/0/addresses']));
});
