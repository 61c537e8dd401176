import type { Exposure } from '../../exposure/index.ts';
import { ADDRESS_LENGTH, addressIntersection, addressSet, prefix, type AddressSet } from '../../net/index.ts';
import { letInText } from '../../words/index.ts';
import { sizeOf } from '../bench/audience.ts';

/** How many addresses an opening lets in. */
export interface LetIn {
  readonly text: string;
  /** 0 … 1: their number in bits as a share of the family's length, so that each step of it doubles them. */
  readonly share: number;
}

/** @param sources prefixes of one family, no two of which overlap */
export function letIn({ family, sources, anyone }: Exposure): LetIn {
  if (anyone) return { text: letInText('anyone'), share: 1 };
  const count = sizeOf(setOf(sources));
  return {
    text: letInText(count),
    share: count < 1 ? 0 : (1 + Math.log2(count)) / (1 + ADDRESS_LENGTH[family]),
  };
}

/** Whether it lets in somebody whom the service is not meant for; false where nobody has said who that is. */
export function isWider({ sources, anyone }: Exposure, audience: AddressSet | 'anyone' | null): boolean {
  if (audience === null || audience === 'anyone') return false;
  if (anyone) return true;
  const set = setOf(sources);
  return sizeOf(addressIntersection(set, audience)) < sizeOf(set);
}

const setOf = (sources: readonly string[]): AddressSet => addressSet(...sources.map(prefix));
