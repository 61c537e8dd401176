import { choice, text, list, number, TWO, lines, ownPorts, type FormSpec } from '../form/spec.ts';

/** How this kind of device is filled in. */
export const form: FormSpec = {
  title: 'Router that only translates',
  explains: 'Static mappings of ports or whole addresses; nothing is filtered.',
  roles: ['gateway'],
  tables: [
    lines(true),
    {
      key: 'lines',
      isNeeded: true,
      label: 'Mappings',
      columns: [
        choice('type', 'kind', {
          port: 'one port',
          address: 'whole address',
          many: 'inside machines outward',
        }),
        choice('protocol', 'protocol', TWO),
        text('outside', 'outside', 'address or interface'),
        number('outsidePort', 'port'),
        text('inside', 'inside'),
        number('insidePort', 'port'),
        list('sources', 'from'),
      ],
    },
    ownPorts,
  ],
  fields: [list('outsidePrefixes', 'Outside prefixes routed to it')],
};
