import {
  choice,
  text,
  list,
  number,
  onlyFor,
  picked,
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
        ...onlyFor(
          'type',
          ['port-forward', 'one-to-one'],
          picked(text('outside', 'outside address'), 'outside'),
        ),
        ...onlyFor('type', ['port-forward'], choice('protocol', 'protocol', THREE), text('ports', 'ports')),
        ...onlyFor('type', ['port-forward', 'source'], picked(text('to', 'sends to'), 'machine')),
        ...onlyFor('type', ['port-forward'], number('toPort', 'inside port')),
        ...onlyFor('type', ['one-to-one'], picked(text('inside', 'inside machine'), 'machine')),
        ...onlyFor('type', ['one-to-one'], yesNo('twoWay', 'both ways')),
        ...onlyFor('type', ['port-forward', 'source'], picked(text('fromZone', 'from zone'), 'zone')),
        ...onlyFor('type', ['source'], picked(text('toZone', 'to zone'), 'zone')),
        ...onlyFor('type', ['port-forward', 'source'], list('sources', 'senders', 'empty: anyone')),
        yesNo('enabled', 'on'),
      ],
    },
    {
      key: 'rules',
      isNeeded: true,
      label: 'Filter rules, in order',
      isOrdered: true,
      columns: [
        text('name', 'name'),
        choice('action', 'does', { allow: 'allow', drop: 'drop', reject: 'refuse' }),
        picked(text('fromZone', 'from zone'), 'zone'),
        picked(text('toZone', 'to zone'), 'zone'),
        picked(list('sources', 'senders', 'empty: anyone'), 'name'),
        picked(list('destinations', 'to', 'empty: any'), 'name'),
        picked(list('services', 'services', 'tcp/8214 or a name'), 'service'),
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
