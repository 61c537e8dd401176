import type { CaseDocument, Observation, ServiceEndpoint } from '../case/index.ts';
import { endpointsFrom } from './heard.ts';

/** A typed line that is no fact of a device: what the caller just said. */
export type Said =
  | { readonly said: 'ports'; readonly endpoints: readonly ServiceEndpoint[] }
  | { readonly said: 'outcome'; readonly outcome: Observation['outcome'] };

const OUTCOMES: readonly (readonly [RegExp, Observation['outcome']])[] = [
  [/^(?:it |now it )?works(?: now| again)?[.!]?$/i, 'answered'],
  [
    new RegExp(
      String.raw`^(?:it )?(?:still )?(?:times? out|timed out|waits|hangs|nothing(?: happens)?|` +
        String.raw`no answer|does ?n[o']t work|fails)(?: still| now)?[.!]?$`,
      'i',
    ),
    'lost',
  ],
  [
    /^(?:it is )?(?:still |now )?(?:the )?(?:connection (?:is |was )?)?refused(?: at once| now)?[.!]?$/i,
    'refused',
  ],
];

/** What a line says of ports or of a try; null: neither. */
export function saidOf(line: string): Said | null {
  const text = line.trim();
  const outcome = OUTCOMES.find(([words]) => words.test(text))?.[1];
  if (outcome) return { said: 'outcome', outcome };
  if (!/^(?:ports?\s+)?(?:tcp|udp|both|\d)[\s\d,;/&+–-]*(?:(?:tcp|udp|both|and)[\s\d,;/&+–-]*)*$/i.test(text))
    return null;
  const endpoints = /\b(?:tcp|udp|both|ports?)\b/i.test(text)
    ? endpointsFrom(text.replace(/^ports?\s+/i, ''))
    : null;
  return endpoints && endpoints.length > 0 ? { said: 'ports', endpoints } : null;
}

/** The case with ports that were said: they stand beside those that it has, and in place of guesses. */
export function withPorts(document: CaseDocument, said: readonly ServiceEndpoint[]): CaseDocument {
  const before = (document.service?.endpoints ?? []).filter(
    (e) => !said.some((s) => s.port === e.port && (s.protocol === e.protocol || e.guessed)),
  );
  return { ...document, service: { ...document.service, endpoints: [...before, ...said] } };
}
