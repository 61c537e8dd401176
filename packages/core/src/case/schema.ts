import { nth } from '../place/index.ts';
import { ASKS } from '../asks/index.ts';
import { findNodeAtLocation, parseTree, type JSONPath, type Node } from 'jsonc-parser';
import { array, boolean, mixed, number, object, string, ValidationError } from 'yup';
import { parseAddress, parsePrefix } from '../net/index.ts';
import { settingsSchema } from './settings.ts';
import { CaseError, SYMPTOMS, VANTAGES, type CaseDocument } from './document.ts';
import type { StopReason } from './found.ts';
import { deepestPlace, MOST_DEPTH } from './depth.ts';

const ROLES = ['client', 'carrier', 'edge', 'gateway', 'relay', 'host'] as const;
const port = () => number().integer('${path} must be a whole number').min(0).max(65535);
const askKind = string()
  .oneOf([...ASKS])
  .required();
const EVIDENCE_PATH = /^evidence\/[^/\\]+\/[^\\]+$/;

/** Reasons for which a stop can stand on the way that nobody has named. */
const REASONS: Readonly<Record<StopReason['by'], true>> = {
  'private-wan': true,
  'shared-wan': true,
  hops: true,
  'tunnel-route': true,
  container: true,
  provider: true,
  'inner-router': true,
};

const foundSchema = object({
  id: string().required(),
  reason: object({ by: string().oneOf(Object.keys(REASONS)).required() })
    .test('texts', '${path} may hold texts only', (reason) =>
      Object.values(reason).every((v) => typeof v === 'string'),
    )
    .required(),
  evidence: array(
    object({ file: string().required(), line: number().integer().min(1).required() }),
  ).defined(),
}).default(undefined);

const schema = object({
  format: string()
    .oneOf(['bright-ferry-case'], 'this is not a case: “format” must be “bright-ferry-case”')
    .required('this is not a case: “format” is missing'),
  version: number()
    .oneOf([1], 'version ${value} of the case format is newer than this program; version 1 is known')
    .required(),
  title: string().defined('“title” is missing'),
  service: object({
    name: string(),
    kind: string().oneOf(['game', 'media', 'database', 'other']),
    endpoints: array(
      object({
        protocol: string().oneOf(['tcp', 'udp']).required(),
        port: port().required(),
        portEnd: port(),
        guessed: boolean(),
      }).test(
        'order',
        '${path}: portEnd lies below port',
        (e) => e.portEnd === undefined || e.port === undefined || e.portEnd >= e.port,
      ),
    ),
    audience: mixed().test(
      'audience',
      '${path} must be “anyone” or a list of address prefixes',
      (a) =>
        a === undefined ||
        a === 'anyone' ||
        (Array.isArray(a) && a.every((p) => typeof p === 'string' && parsePrefix(p) !== null)),
    ),
  }).default(undefined),
  client: object({
    address: string().test(
      'address',
      '${path} is not an IP address',
      (a) => a === undefined || a === '' || parseAddress(a) !== null,
    ),
    others: array(
      string().test(
        'address',
        '${path} is not an IP address',
        (a) => a !== undefined && parseAddress(a) !== null,
      ),
    ),
    dials: string(),
    alsoDials: array(string().required()),
    symptom: string().oneOf(SYMPTOMS),
    says: string(),
  }).default(undefined),
  path: array(
    object({
      id: string()
        .required()
        .matches(/^[\w.-]+$/, '${path} may hold letters, digits, “.”, “-” and “_” only'),
      role: string().oneOf(ROLES).required(),
      name: string(),
      typed: array(object({ text: string().defined(), at: string() })),
      settings: settingsSchema,
      found: foundSchema,
    }),
  )
    .required('“path” is missing')
    .test(
      'unique',
      'two stops of “path” have the same id',
      (stops) => new Set(stops.map((s: { id?: string } | null) => s?.id)).size === stops.length,
    ),
  evidence: array(
    object({
      stop: string().required(),
      file: string()
        .required()
        .matches(EVIDENCE_PATH, '${path} must lie below evidence/<stop>/')
        .test('inside', '${path} leaves the case folder', (f) => !f.split('/').includes('..')),
      at: string(),
      part: boolean(),
      whole: boolean(),
      command: string(),
      asked: string(),
      corrections: array(
        object({
          line: number().integer().min(1).required(),
          from: string().required(),
          to: string().required(),
        }).test('length', '${path}: “to” must be as long as “from”', (c) => c.from?.length === c.to?.length),
      ),
      columns: object({
        table: string().oneOf(['forwards', 'devices']).required(),
        roles: array(string().required()).required(),
      }).default(undefined),
    }),
  ),
  observations: array(
    object({
      vantage: string().oneOf(VANTAGES).required(),
      to: string().required(),
      outcome: string().oneOf(['answered', 'refused', 'lost']).required(),
      from: string(),
      at: string(),
      other: boolean(),
    }),
  ),
  declined: array(string().required()),
  dismissed: array(string().required()),
  changes: array(
    object({
      stop: string().required(),
      yields: askKind,
      title: string().defined(),
      at: string().required(),
      before: settingsSchema,
    }),
  ),
  watched: array(
    object({
      stop: string().required(),
      yields: askKind,
      at: string().required(),
    }),
  ),
  closed: string(),
});

/**
 * Checks the text of a `case.json`.
 * @throws CaseError naming the file, the line and the problem
 */
export function parseCaseDocument(text: string, file = 'case.json'): CaseDocument {
  let value: unknown;
  try {
    value = JSON.parse(text.replace(/^\uFEFF/, ''));
  } catch (error) {
    throw new CaseError(
      file,
      jsonErrorLine(text, error),
      `not valid JSON (${error instanceof Error ? nth(error.message.split('\n'), 0) : 'unreadable'})`,
    );
  }
  return checkCaseDocument(value, file, text);
}

/** Checks a value that may be a case document. @throws CaseError */
export function checkCaseDocument(
  value: unknown,
  file = 'case.json',
  text: string | null = null,
): CaseDocument {
  if (typeof value !== 'object' || value === null || Array.isArray(value))
    throw new CaseError(
      file,
      1,
      'this is not a case: an object with “format”, “title” and “path” is expected',
    );
  const deep = deepestPlace(value);
  if (deep !== null)
    throw new CaseError(
      file,
      null,
      `${deep} is nested deeper than ${MOST_DEPTH} levels; no part of a case is`,
    );
  try {
    schema.validateSync(value, { strict: true, abortEarly: true });
  } catch (error) {
    if (error instanceof ValidationError)
      throw new CaseError(file, text === null ? null : lineOfPath(text, error.path), problemOf(error));
    throw error;
  }
  return value as CaseDocument;
}

/** The library words a wrong type over several lines; the first tells what is expected. */
function problemOf({ message, params, path }: ValidationError): string {
  const { type, value } = (params ?? {}) as { type?: unknown; value?: unknown };
  if (typeof type !== 'string' || !message.includes('must be a `')) return message;
  let got;
  if (value === null) got = 'null';
  else if (Array.isArray(value)) got = 'a list';
  else got = `of type ${typeof value}`;
  return `${path} must be ${TYPE_WORDS[type] ?? `a ${type}`}, and is ${got}`;
}

const TYPE_WORDS: Readonly<Record<string, string>> = { array: 'a list', object: 'an object' };

function jsonErrorLine(text: string, error: unknown): number {
  const position = /position (\d+)/.exec(String(error))?.[1];
  return position === undefined
    ? text.split('\n').length
    : text.slice(0, Number(position)).split('\n').length;
}

/**
 * Line of the value that a path such as `path[1].settings.rows[0].to` leads to, else of the innermost part of
 * it that is there.
 */
function lineOfPath(text: string, path: string | undefined): number | null {
  const tree = parseTree(text);
  if (!tree || path === undefined || path === '') return tree ? 1 : null;
  const keys: JSONPath = [...path.matchAll(/([^.[\]]+)/g)].map(([key]) =>
    /^\d+$/.test(key) ? Number(key) : key,
  );
  for (let length = keys.length; length > 0; length--) {
    const node: Node | undefined = findNodeAtLocation(tree, keys.slice(0, length));
    if (node) return text.slice(0, node.offset).split('\n').length;
  }
  return 1;
}
