import { array, boolean, mixed, number, object, string, ValidationError } from 'yup';
import { parseAddress, parsePrefix } from '../net/index.ts';
import { settingsSchema } from './settings.ts';
import { CaseError, SYMPTOMS, VANTAGES, type CaseDocument } from './document.ts';

const ROLES = ['client', 'carrier', 'edge', 'gateway', 'relay', 'host'] as const;
const port = () => number().integer('${path} must be a whole number').min(0).max(65535);
const EVIDENCE_PATH = /^evidence\/[^/\\]+\/[^\\]+$/;

const schema = object({
  format: string().oneOf(['bright-ferry-case'], 'this is not a case: “format” must be “bright-ferry-case”').required('this is not a case: “format” is missing'),
  version: number().oneOf([1], 'version ${value} of the case format is newer than this program; version 1 is known').required(),
  title: string().defined('“title” is missing'),
  service: object({
    name: string(),
    kind: string().oneOf(['game', 'media', 'database', 'other']),
    endpoints: array(object({ protocol: string().oneOf(['tcp', 'udp']).required(), port: port().required(), portEnd: port() }).test('order', '${path}: portEnd lies below port', (e) => e.portEnd === undefined || e.port === undefined || e.portEnd >= e.port)),
    audience: mixed().test('audience', '${path} must be “anyone” or a list of address prefixes', (a) => a === undefined || a === 'anyone' || (Array.isArray(a) && a.every((p) => typeof p === 'string' && parsePrefix(p) !== null))),
  }).default(undefined),
  client: object({
    address: string().test('address', '${path} is not an IP address', (a) => a === undefined || a === '' || parseAddress(a) !== null),
    dials: string(), symptom: string().oneOf(SYMPTOMS), says: string(),
  }).default(undefined),
  path: array(object({ id: string().required().matches(/^[\w.-]+$/, '${path} may hold letters, digits, “.”, “-” and “_” only'), role: string().oneOf(ROLES).required(), settings: settingsSchema })).required('“path” is missing')
    .test('unique', 'two stops of “path” have the same id', (stops) => new Set(stops.map((s) => s.id)).size === stops.length),
  evidence: array(object({ stop: string().required(), file: string().required().matches(EVIDENCE_PATH, '${path} must lie below evidence/<stop>/').test('inside', '${path} leaves the case folder', (f) => !f.split('/').includes('..')), at: string(), part: boolean(), corrections: array(object({ line: number().integer().min(1).required(), from: string().required(), to: string().required() }).test('length', '${path}: “to” must be as long as “from”', (c) => c.from?.length === c.to?.length)), columns: object({ table: string().oneOf(['forwards', 'devices']).required(), roles: array(string().required()).required() }).default(undefined) })),
  observations: array(object({ vantage: string().oneOf(VANTAGES).required(), to: string().required(), outcome: string().oneOf(['answered', 'refused', 'lost']).required() })),
  declined: array(string().required()),
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
    throw new CaseError(file, jsonErrorLine(text, error), `not valid JSON (${error instanceof Error ? error.message.split('\n')[0]! : 'unreadable'})`);
  }
  return checkCaseDocument(value, file, text);
}

/** Checks a value that may be a case document. @throws CaseError */
export function checkCaseDocument(value: unknown, file = 'case.json', text: string | null = null): CaseDocument {
  if (typeof value !== 'object' || value === null || Array.isArray(value)) throw new CaseError(file, 1, 'this is not a case: an object with “format”, “title” and “path” is expected');
  try {
    schema.validateSync(value, { strict: true, abortEarly: true });
  } catch (error) {
    if (error instanceof ValidationError) throw new CaseError(file, text === null ? null : lineOfPath(text, error.path), error.message);
    throw error;
  }
  return value as CaseDocument;
}

function jsonErrorLine(text: string, error: unknown): number {
  const position = /position (\d+)/.exec(String(error))?.[1];
  return position === undefined ? text.split('\n').length : text.slice(0, Number(position)).split('\n').length;
}

/** Line of the last key of a path that the text holds; close enough to point at. */
function lineOfPath(text: string, path: string | undefined): number | null {
  const key = path?.split(/[.[\]]+/).filter((part) => part !== '' && !/^\d+$/.test(part)).pop();
  const at = key ? text.indexOf(`"${key}"`) : -1;
  return at < 0 ? null : text.slice(0, at).split('\n').length;
}
