import type { LabMachine } from './sites.ts';

/**
 * Some rules in a row that stand at one hook and take one port: what they do to it is seen on no other one.
 * `PORT` stands for it.
 */
export interface Statement {
  readonly where: 'host' | 'forward' | 'prerouting' | 'postrouting' | 'early';
  readonly rules: readonly string[];
  /** The family that a rule set of one family belongs to; IPv4 if left out. */
  readonly family?: 4 | 6;
}

/** A statement with the port that is its own. */
export interface Placed extends Statement {
  readonly port: number;
}

/** The rules of both machines, in the words of one program. */
export interface Tables {
  readonly gateway: Pick<LabMachine, 'rules' | 'iptables' | 'ip6tables'>;
  readonly host: Pick<LabMachine, 'rules' | 'iptables' | 'ip6tables'>;
}

/** Served as well, for translations to another port. */
export const OTHER_PORT = 20_999;

/** The rules of a statement with its port in them. */
export const rulesOf = (s: Placed): string[] => s.rules.map((rule) => rule.replaceAll('PORT', `${s.port}`));
