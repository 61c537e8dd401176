import { choice, text, list, THREE, forwardColumns, type FormSpec } from '../form/spec.ts';

/** How this kind of device is filled in. */
export const form: FormSpec = {
  title: 'Carrier',
  explains: 'What is known of the carrier’s own network.',
  roles: ['carrier'],
  tables: [
    {
      key: 'blocked',
      label: 'Blocked ports',
      columns: [choice('protocol', 'protocol', THREE), text('ports', 'ports')],
    },
    {
      key: 'portal',
      label: 'Forwards in the carrier’s portal',
      columns: forwardColumns.filter((c) => c.key !== 'line'),
    },
  ],
  fields: [
    choice('ipv4', 'IPv4', { own: 'an address of its own', shared: 'shared with others', none: 'none' }),
    list('sharedAddresses', 'Shared addresses'),
    choice('shield.when', 'Shield against unasked traffic', {
      always: 'always',
      'after-a-while': 'after a while',
      'per-client': 'unless the client is approved',
    }),
    list('shield.approved', 'Approved clients'),
  ],
};
