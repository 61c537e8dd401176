import type { AskKind } from '../asks/index.ts';
import type { Coverage, Fact } from '../facts/index.ts';
import type { ReadFile } from './caseFacts.ts';

type Piece = Pick<ReadFile, 'shows' | 'facts'>;
type Test = (piece: Piece) => boolean;

const covers =
  (...names: readonly Coverage[]): Test =>
  (piece) =>
    piece.shows.some((c) => names.includes(c));
const has =
  (...kinds: readonly Fact['kind'][]): Test =>
  (piece) =>
    piece.facts.some((f) => kinds.includes(f.kind));
const label =
  (what: Extract<Fact, { kind: 'labelled' }>['what']): Test =>
  (piece) =>
    piece.facts.some((f) => f.kind === 'labelled' && f.what === what);
const any =
  (...tests: readonly Test[]): Test =>
  (piece) =>
    tests.some((test) => test(piece));

const hasCounters: Test = ({ facts }) =>
  facts.some(
    (f) =>
      (f.kind === 'nft' && f.objects.some((o) => o.is === 'rule' && o.counted !== undefined)) ||
      (f.kind === 'iptables' && f.tables.some((t) => t.rules.some((r) => r.counted !== undefined))),
  );

/**
 * Whether a piece of evidence answers what was asked for: the one place that says so, for each kind of ask.
 */
const ANSWERS: Readonly<Record<AskKind, Test>> = {
  addresses: covers('addresses'),
  routes: any(covers('routes4', 'routes6'), has('setting')),
  neighbours: covers('neighbours'),
  sockets: any(covers('sockets-tcp', 'sockets-udp'), has('socket')),
  rules: any(
    covers('rules4', 'rules6'),
    has(
      'host-row',
      'host-profile',
      'front-end',
      'bsd-rule',
      'bsd-rules-listed',
      'bsd-enabled',
      'filter-row',
      'zone-rule',
    ),
  ),
  forwards: covers('forwards', 'rules4'),
  leases: any(covers('leases'), has('lease')),
  status: label('wan-address'),
  'seen-address': label('seen-address'),
  name: has('name'),
  mappings: has('mapping', 'mapping-reply'),
  'allow-list': has('allow-row', 'allow-nothing', 'allow-refuses'),
  sessions: has('session'),
  counters: hasCounters,
  'drop-log': has('try'),
  capture: has('conversation'),
  dial: has('outcome'),
  configuration: has(
    'program-setting',
    'listen',
    'program-bind',
    'program-port',
    'program-access',
    'announced',
    'data-ports',
  ),
};

export const answers = (piece: Piece, ask: AskKind): boolean => ANSWERS[ask](piece);
