import type { DeviceRole, ForwardRole } from '../facts/index.ts';

/** What people call each thing that a column of a copied table can hold. */
const WORDS: Readonly<Record<ForwardRole | DeviceRole, string>> = {
  name: 'name',
  protocol: 'protocol',
  outside: 'outside port',
  'outside-end': 'last outside port',
  'outside-address': 'outside address',
  'some-port': 'outside or inside port',
  'inside-address': 'inside address',
  device: 'name or link address of the machine',
  inside: 'inside port',
  'inside-end': 'last inside port',
  endpoint: 'inside address:port',
  sources: 'allowed sources',
  'source-port': 'port of the sender',
  enabled: 'on or off',
  applied: 'applied or not',
  wan: 'outside line',
  schedule: 'hours',
  lifetime: 'time',
  number: 'row number, counter, button',
  counted: 'packets that it counted',
  mac: 'link address',
  unknown: 'not known: it may narrow its rows',
  other: 'nothing of use',
};

export const columnWord = (role: ForwardRole | DeviceRole): string => WORDS[role];
