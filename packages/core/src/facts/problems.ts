/** A line that was seen and not understood, or a document that is damaged; `words/` says it as a sentence. */
export interface Problem {
  /** 1-based; 1 where the whole text is meant. */
  readonly line: number;
  readonly text: string;
  readonly why: ProblemReason;
}

export type ProblemReason = StrayLine | Unreadable | CutOff | Missing | NotEverything | ReasonWithValues;

/** A line that is none of those that its listing has. */
export type StrayLine =
  | 'no-access-line'
  | 'no-address-line'
  | 'no-allow-row'
  | 'no-brief-line'
  | 'no-bsd-log-line'
  | 'no-device-row'
  | 'no-filter-rule'
  | 'no-flow-row'
  | 'no-forward-row'
  | 'no-forward-table-row'
  | 'no-iptables-command'
  | 'no-iptables-rule'
  | 'no-iptables-save-line'
  | 'no-kernel-setting'
  | 'no-lease'
  | 'no-lease-line'
  | 'no-line-address'
  | 'no-listing-line'
  | 'no-log-line'
  | 'no-lookup-line'
  | 'no-lsof-line'
  | 'no-mapping'
  | 'no-mapping-row'
  | 'no-named-address'
  | 'no-neighbour'
  | 'no-nft-line'
  | 'no-notice'
  | 'no-one-line-address'
  | 'no-packet-line'
  | 'no-program-firewall-line'
  | 'no-resolver-line'
  | 'no-route-line'
  | 'no-route-table-line'
  | 'no-route-to'
  | 'no-routing-rule'
  | 'no-rule-row'
  | 'no-socket-line'
  | 'no-ufw-line'
  | 'no-zone-line'
  | 'no-zone-row'
  | 'no-zone-rule'
  | 'before-first-chain'
  | 'before-first-interface';

/** A row of the right kind, of which something cannot be read. */
export type Unreadable =
  | 'container-ports'
  | 'address-unreadable'
  | 'location-unreadable'
  | 'mapping-unreadable'
  | 'neighbour-unreadable'
  | 'packet-unreadable'
  | 'route-unreadable'
  | 'socket-unreadable'
  | 'log-address'
  | 'log-port'
  | 'no-link-address'
  | 'nameless-interface'
  | 'nft-object'
  | 'object-kind'
  | 'route-destination'
  | 'routing-rule-priority'
  | 'socket-names'
  | 'socket-protocol'
  | 'too-deep';

/** Something breaks off. */
export type CutOff =
  | 'half-a-flow'
  | 'json-cut'
  | 'lease-cut'
  | 'log-line-cut'
  | 'no-question'
  | 'no-whole-session'
  | 'ping-count-cut'
  | 'quote-open'
  | 'row-cut'
  | 'rule-cut'
  | 'tables-cut';

/** What is looked for does not stand in it. */
export type Missing =
  | 'empty'
  | 'lease-refused'
  | 'name-server-silent'
  | 'no-address-in-row'
  | 'no-answer'
  | 'no-device-rows'
  | 'no-forward-rows'
  | 'no-gateway-answered'
  | 'no-hops'
  | 'no-known-value'
  | 'no-outcome'
  | 'no-port-named'
  | 'no-reader'
  | 'no-reader-part'
  | 'no-rule-rows'
  | 'no-value'
  | 'no-zone-rows';

/** More holds than what is listed here, or something else. */
export type NotEverything =
  | 'legacy-tables-beside'
  | 'nft-line-alone'
  | 'nft-part'
  | 'nft-tables-beside'
  | 'profile-policy'
  | 'rules-file-bsd';

export type ReasonWithValues =
  | { readonly is: 'table-twice'; readonly table: string }
  | { readonly is: 'table-not-closed'; readonly table: string }
  | { readonly is: 'table-before-commit'; readonly table: string }
  | { readonly is: 'table-without-hooks'; readonly table: string }
  | { readonly is: 'families-mixed'; readonly rule: 4 | 6 }
  | { readonly is: 'rule-from'; readonly word: string }
  | { readonly is: 'set-elements'; readonly set: string; readonly detail: string }
  | { readonly is: 'chain-priority'; readonly word: string; readonly family: string }
  | { readonly is: 'zone-setting'; readonly key: string }
  | { readonly is: 'no-answer-of-tool'; readonly code: string }
  | { readonly is: 'capture-cut'; readonly packets: number; readonly byte: number; readonly damaged: boolean }
  | { readonly is: 'not-listed'; readonly what: Uncounted; readonly more: number }
  | { readonly is: 'looks-like'; readonly from: string; readonly to: string; readonly detail: string }
  | { readonly is: 'no-action'; readonly word: string }
  | { readonly is: 'no-text'; readonly found: string };

export type Uncounted = 'conversations' | 'packets' | 'packets-or-tries' | 'lines';

/** Whether a reason is the one of that name, with its values. */
export const isWithValues = <K extends ReasonWithValues['is']>(
  why: ProblemReason,
  is: K,
): why is Extract<ReasonWithValues, { readonly is: K }> => typeof why !== 'string' && why.is === is;
