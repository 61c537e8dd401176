import {
  choice,
  text,
  list,
  number,
  yesNo,
  THREE,
  FOUR,
  lines,
  ownPorts,
  type FormSpec,
} from '../form/spec.ts';
import { NAMED_LISTS, NAMED_MEMBERS } from '../form/shapes.ts';

/** How this kind of device is filled in. */
export const form: FormSpec = {
  title: 'Firewall with zones',
  explains: 'Translations and filter rules stand in two tables; a connection needs a row in each.',
  roles: ['gateway', 'edge'],
  tables: [
    lines(true),
    {
      key: 'translations',
      isNeeded: true,
      label: 'Translations',
      columns: [
        choice('type', 'kind', {
          'port-forward': 'port forward',
          'one-to-one': 'one to one',
          source: 'source',
        }),
        text('name', 'name'),
        text('outside', 'outside', 'address or interface'),
        choice('protocol', 'protocol', THREE),
        text('ports', 'ports'),
        text('to', 'sends to'),
        number('toPort', 'port'),
        text('inside', 'inside machine'),
        yesNo('twoWay', 'both ways'),
        text('fromZone', 'from zone'),
        text('toZone', 'to zone'),
        list('sources', 'from'),
        yesNo('enabled', 'on'),
      ],
    },
    {
      key: 'rules',
      isNeeded: true,
      label: 'Filter rules, in order',
      columns: [
        text('name', 'name'),
        choice('action', 'does', { allow: 'allow', drop: 'drop', reject: 'refuse' }),
        text('fromZone', 'from zone'),
        text('toZone', 'to zone'),
        list('sources', 'from'),
        list('destinations', 'to'),
        list('services', 'services', 'tcp/8214 or a name'),
        yesNo('enabled', 'on'),
      ],
    },
    {
      key: 'names',
      shape: NAMED_MEMBERS,
      label: 'Named addresses',
      columns: [text('name', 'name'), list('members', 'addresses')],
    },
    {
      key: 'services',
      shape: NAMED_LISTS,
      label: 'Named services',
      columns: [text('name', 'name'), choice('protocol', 'protocol', FOUR), text('ports', 'ports')],
    },
    ownPorts,
  ],
  fields: [
    choice('otherwise', 'What no rule names', {
      drop: 'is dropped',
      reject: 'is refused',
      allow: 'is let through',
    }),
    choice('destinationSeen', 'Filter rules name the address', {
      before: 'before translation',
      after: 'after translation',
    }),
    choice('zoneSeen', 'The destination’s zone is that', {
      before: 'before translation',
      after: 'after translation',
    }),
    list('extraAddresses', 'Further outside addresses'),
  ],
};
