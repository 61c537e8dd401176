import type {
  CutOff,
  Missing,
  NotEverything,
  ProblemReason,
  ReasonWithValues,
  StrayLine,
  Uncounted,
  Unreadable,
} from '../facts/index.ts';

const STRAY: Readonly<Record<StrayLine, string>> = {
  'no-access-line': 'not an entry of pg_hba.conf',
  'no-address-line': 'not a line of an address listing',
  'no-allow-row': 'not a row of an allow list: its sources or its ports are missing',
  'no-brief-line': 'not a line of a short interface listing',
  'no-bsd-log-line': 'not a line of a packet filter’s log',
  'no-device-row': 'not a row of the list of devices',
  'no-filter-rule': 'not a rule of the packet filter',
  'no-flow-row': 'not a row of this flow log',
  'no-forward-table-row': 'not a row of the forward table',
  'no-forward-row': 'no row with ports and an inside address',
  'no-iptables-command': 'not a line of iptables -S',
  'no-iptables-rule': 'not a rule of an iptables listing',
  'no-iptables-save-line': 'not a line of iptables-save output',
  'no-kernel-setting': 'not a kernel setting (expected “net.… = value”)',
  'no-lease': 'not a lease',
  'no-lease-line': 'not a lease (expected: expiry, MAC, address, name)',
  'no-line-address': 'no address of an interface stands here',
  'no-listing-line': 'not a line of this listing: what it belongs to is open',
  'no-log-line': 'not a line of this log',
  'no-lookup-line': 'not a sentence of a name lookup',
  'no-lsof-line': 'not a line of an lsof listing',
  'no-mapping': 'not a mapping',
  'no-mapping-row': 'not a row of the table of mappings',
  'no-named-address': 'no name with addresses stands here',
  'no-neighbour': 'not a neighbour',
  'no-nft-line': 'not part of an nft listing',
  'no-notice': 'a sentence of which nothing is concluded',
  'no-one-line-address': 'not a line of a one-line address listing',
  'no-packet-line': 'not a line of a captured packet',
  'no-program-firewall-line': 'not a line of the firewall for programs',
  'no-resolver-line': 'not a line of resolv.conf',
  'no-route-line': 'not a line of a route listing',
  'no-route-table-line': 'not a line of a route table',
  'no-route-to': 'not the route to an address',
  'no-routing-rule': 'not a routing rule',
  'no-rule-row': 'not a row of the rule table',
  'no-socket-line': 'not a line of a socket listing',
  'no-ufw-line': 'not a line of ufw status',
  'no-zone-line': 'not a line of a zone listing',
  'no-zone-row': 'not a row of the tables on this page',
  'no-zone-rule': 'not a row of the table of rules',
  'before-first-chain': 'stands before the first chain',
  'before-first-interface': 'stands before the first interface',
};

const UNREADABLE: Readonly<Record<Unreadable, string>> = {
  'container-ports': 'which port of the container this publishes cannot be read',
  'address-unreadable': 'this address cannot be read',
  'location-unreadable': 'the location cannot be read',
  'mapping-unreadable': 'a mapping that cannot be read',
  'neighbour-unreadable': 'a neighbour without a readable address',
  'packet-unreadable': 'a packet that is not understood',
  'route-unreadable': 'a route that cannot be read',
  'socket-unreadable': 'this socket cannot be read',
  'log-address': 'no address stands where one belongs',
  'no-link-address': 'what stands for the link address is none',
  'log-port': 'no port stands where one belongs',
  'nameless-interface': 'an interface without a name',
  'nft-object': 'an object of a kind that is not known here',
  'object-kind': 'an object whose kind is not known',
  'route-destination': 'a route without a readable destination',
  'routing-rule-priority': 'a routing rule without a priority',
  'socket-names': 'the address is shown as a name: ask for numbers (netstat -ano, or -tulpn on Linux)',
  'socket-protocol': 'whether this is TCP or UDP is not shown: send the command along',
  'too-deep': 'it is nested too deeply, or too large in one piece, to be read; send a smaller part',
};

const CUT: Readonly<Record<CutOff, string>> = {
  'half-a-flow': 'a flow without both directions',
  'json-cut':
    'this begins like a JSON listing but is not whole; copy it again from the first to the last bracket',
  'lease-cut': 'this lease is cut off',
  'log-line-cut': 'a line of the log that is not whole',
  'no-question': 'no question section: the answer is cut off',
  'no-whole-session': 'not a whole connection entry',
  'ping-count-cut': 'the count of answers is cut off',
  'quote-open': 'a quote in this rule is not closed; the line is cut off',
  'row-cut': 'this row is cut off: rows below it may be missing',
  'rule-cut': 'this rule is cut off',
  'tables-cut': 'the listing breaks off here: further tables may have stood behind it',
};

const MISSING: Readonly<Record<Missing, string>> = {
  empty: 'the file is empty: nothing follows from it',
  'lease-refused': 'no lease was obtained',
  'name-server-silent': 'the name server did not answer',
  'no-address-in-row': 'no address in this row',
  'no-answer': 'no answer in it',
  'no-device-rows': 'no rows with an address and a link address',
  'no-forward-rows': 'no rows with ports and an inside address',
  'no-gateway-answered': 'no gateway answered the search',
  'no-hops': 'no hops in it',
  'no-known-value': 'no value here that is known what to do with',
  'no-outcome': 'the try’s outcome is not in it',
  'no-port-named': 'nothing about a port',
  'no-reader': 'no reader recognises this',
  'no-reader-part': 'no reader recognises this part',
  'no-rule-rows': 'no rows that allow or refuse',
  'no-value': 'the answer holds no value',
  'no-zone-rows': 'no rules or translations of zones',
};

const MORE: Readonly<Record<NotEverything, string>> = {
  'legacy-tables-beside':
    'further tables filter as well, and are not in this listing: ask for iptables-legacy-save too',
  'nft-line-alone': 'a line by itself: which chain it is in is not said; ask for the whole: nft list ruleset',
  'profile-policy':
    'what this profile does with a packet that no row names is not shown: ask for netsh ' +
    'advfirewall show allprofiles',
  'nft-part': 'only a part of the rule set; ask for the whole: nft list ruleset',
  'nft-tables-beside': 'nft keeps rules here that iptables cannot list: ask for nft list ruleset',
  'rules-file-bsd': 'a file of rules, not what is loaded: ask for pfctl -sr',
};

const PLAIN = { ...STRAY, ...UNREADABLE, ...CUT, ...MISSING, ...MORE };

const UNCOUNTED: Readonly<Record<Uncounted, string>> = {
  conversations: 'further conversations are counted, not listed',
  packets: 'further packets are counted, not listed',
  'packets-or-tries': 'further packets or kinds of tries are counted, not listed',
  lines: 'further lines are not understood',
};

/** Why a line or a document could not be used, in one line. */
export const problemText = (why: ProblemReason): string =>
  typeof why === 'string' ? PLAIN[why] : withValues(why);

function withValues(why: ReasonWithValues): string {
  switch (why.is) {
    case 'table-twice':
      return `table ${why.table} stands here twice: two listings in one text; send the newer one alone`;
    case 'table-not-closed':
      return `table ${why.table} is not closed: the listing is cut off`;
    case 'table-before-commit':
      return `table ${why.table} ends before COMMIT: the listing is cut off`;
    case 'table-without-hooks':
      return (
        `table ${why.table} has no chain of its own hooks: a file of rules, not what is loaded; ask ` +
        'for iptables-save'
      );
    case 'families-mixed': {
      const listing = why.rule === 4 ? 6 : 4;
      return (
        `an IPv${why.rule} rule in an IPv${listing} listing: two listings are mixed; send ` +
        'iptables-save and ip6tables-save one after the other'
      );
    }
    case 'rule-from':
      return (
        'the rule is ' +
        'not understood ' +
        'from ' +
        `“${why.word}” ` +
        'on; packets ' +
        'that reach it ' +
        'have an ' +
        'unknown outcome'
      );
    case 'set-elements':
      return (
        `the elements of ${why.set} are not understood (${why.detail}); rules that use it have ` +
        'an unknown outcome'
      );
    case 'chain-priority':
      return `the priority “${why.word}” is not known for family ${why.family}`;
    case 'zone-setting':
      return `what “${why.key}” does to a zone is not known`;
    case 'no-answer-of-tool':
      return `the tool did not answer (${why.code})`;
    case 'capture-cut':
      return (
        `the capture ${why.damaged ? 'is damaged or ' : ''}breaks off at byte ${why.byte}, after ` +
        `${why.packets} packets; what came later is not in it`
      );
    case 'not-listed':
      return `${why.more} ${UNCOUNTED[why.what]}`;
    case 'looks-like':
      return (
        `“${why.from}” looks like ${why.to} (${why.detail}); it is not taken for it ` +
        'before somebody says so'
      );
    case 'no-action':
      return `“${why.word}” is no word for what was done`;
    case 'no-text':
      return `${why.found}, not text`;
  }
}
