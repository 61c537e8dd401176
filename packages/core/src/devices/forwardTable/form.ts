import {
  choice,
  text,
  number,
  picked,
  yesNo,
  TWO,
  lines,
  ownPorts,
  forwardColumns,
  type FormSpec,
} from '../form/spec.ts';

/** How this kind of device is filled in. */
export const form: FormSpec = {
  title: 'Router with a table of port forwards',
  explains: 'A home router, with one outside line or two. What no row takes ends there.',
  roles: ['gateway'],
  tables: [
    { key: 'rows', isNeeded: true, label: 'Forwards', columns: forwardColumns },
    lines(false),
    ownPorts,
    {
      key: 'mappings',
      label: 'Mappings that programs asked for',
      columns: [
        choice('protocol', 'protocol', TWO),
        number('port', 'outside port'),
        picked(text('to', 'inside address'), 'machine'),
        number('toPort', 'inside port'),
        text('until', 'ends at', '2026-03-01T14:00:00Z'),
        text('by', 'asked with'),
      ],
    },
  ],
  fields: [
    picked(text('exposedHost', 'Exposed host', 'takes what no row takes'), 'machine'),
    choice('clash', 'Two rows claim one port', {
      first: 'the first counts',
      last: 'the last counts',
      refused: 'the second is not taken',
    }),
    yesNo('hairpin', 'Inside machines can use the outside address'),
    choice('keptBy', 'Forwards are kept', {
      gateway: 'in this router',
      carrier: 'in the carrier’s portal',
    }),
    choice('answersBy', 'With two lines an answer leaves', {
      'same-line': 'by the line of the question',
      'default-line': 'by the default line',
    }),
    text('at', 'Looked up at'),
  ],
};
