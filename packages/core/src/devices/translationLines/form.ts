import {
  choice,
  text,
  list,
  number,
  onlyFor,
  picked,
  TWO,
  lines,
  ownPorts,
  type FormSpec,
} from '../form/spec.ts';

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
        picked(text('outside', 'outside address'), 'outside'),
        ...onlyFor(
          'type',
          ['port'],
          choice('protocol', 'protocol', TWO),
          number('outsidePort', 'outside port'),
        ),
        ...onlyFor('type', ['port', 'address'], picked(text('inside', 'inside machine'), 'machine')),
        ...onlyFor('type', ['port'], number('insidePort', 'inside port')),
        ...onlyFor('type', ['many'], list('sources', 'of these', 'empty: all')),
      ],
    },
    ownPorts,
  ],
  fields: [list('outsidePrefixes', 'Outside prefixes routed to it')],
};
