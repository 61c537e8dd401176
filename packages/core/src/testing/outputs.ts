import type { Fact } from '../facts/index.ts';
import { readText } from '../reading/index.ts';

/** A fact in a few words. */
export function inShort(f: Fact): string {
  switch (f.kind) {
    case 'socket':
      return `${f.protocol} ${f.address}:${f.port} ${f.state}${f.peer ? ` to ${f.peer}:${f.peerPort}` : ''}`;
    case 'neighbour':
      return `${f.address} ${f.mac ?? 'nobody'} ${f.states.join()} ${f.dev ?? '-'}`;
    case 'name':
      return `${f.name} ${f.type} ${f.answers.join()}`;
    case 'route':
      return `${f.to} via ${f.hops[0]?.via ?? '-'} by ${f.hops[0]?.dev ?? '-'} metric ${f.metric}`;
    case 'interface':
      return `${f.name} ${f.adminUp ?? '?'} ${f.carrier ?? '?'}`;
    case 'noted':
    case 'program-setting':
    case 'unpublished-port':
    case 'kept-back':
    case 'outcome':
    case 'host-profile':
    case 'program-port':
      return `${f.kind === 'noted' ? f.topic : f.kind}: ${f.text}`;
    default:
      return f.kind;
  }
}
/** What a text is read as, in short. */
export const readShort = (text: string, command?: string) => {
  const reading = readText(text, command);
  return {
    format: reading?.format ?? null,
    facts: (reading?.facts ?? []).map(inShort),
    problems: (reading?.problems ?? []).map(
      (p) => `${p.line} ${typeof p.why === 'string' ? p.why : p.why.is}`,
    ),
  };
};

export type Output = readonly [
  title: string,
  text: string,
  format: string,
  facts: readonly string[],
  problems?: readonly string[],
];
