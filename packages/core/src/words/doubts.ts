import type { Doubt, FieldName } from '../rules/index.ts';

type Of<K extends Doubt['doubt']> = Extract<Doubt, { readonly doubt: K }>;

const FIELDS: Readonly<Record<FieldName, string>> = {
  action: 'its action',
  protocol: 'its protocol',
  ports: 'its ports',
  addresses: 'its addresses',
  interface: 'its interface',
  profile: 'its profile',
  program: 'its program',
  security: 'what it asks for as security',
  flags: 'its flags',
  state: 'whether it is on',
  source: 'whom it lets in',
  option: 'a word of it',
};

const fileName = (path: string): string => path.slice(path.lastIndexOf('/') + 1);

/** A word for each kind: what is not known, as a clause without a stop. */
const TEXT: { readonly [K in Doubt['doubt']]: (d: Of<K>) => string } = {
  'not-modelled': (d) => `the ${d.part} ${d.text} is not modelled`,
  'chain-not-modelled': (d) =>
    `chain ${d.chain} of the ${d.family} table ${d.table} (hook ${d.hook}) is not modelled`,
  word: (d) => `${FIELDS[d.field]}, “${d.text}”, is not understood`,
  'not-shown': (d) => `the listing does not show ${d.fields.map((f) => FIELDS[f]).join(', ')}`,
  narrowed: (d) => `it is for “${d.text}” only`,
  'both-directions': () => 'a rule for both directions on one interface is not modelled',
  'range-lengths': () => 'the inside range is not as long as the outside range',
  'ports-of-which-protocol': () => 'which of its ports belong to which protocol is not understood',
  'which-list': () => 'which of the lists in it belong to this machine is not known',
  'further-list': () => 'whether a further list also belongs to this machine is not known (lists add up)',
  'rows-not-listed': () => 'the rows of the host firewall have not been listed',
  'policy-rows': () => 'the rows of the group policy, which count instead of its own, have not been listed',
  'rows-perhaps-not-whole': () => 'whether the listing holds all rows of the host firewall is not known',
  'forwards-perhaps-not-whole': () => 'whether the table shows all forwards is not known',
  'portal-not-known': () => 'the forwards are kept in the carrier’s portal, and its list is not known',
  'exposed-host': () => 'it has an exposed host, and which machine that is is not known',
  'which-table': () =>
    'it stands in one of several tables only, and which of them is the newest is not known',
  'front-end-default': () =>
    'what the host firewall does with what no row names is not shown (its verbose listing says it)',
  'host-firewall-on': () => 'whether the host firewall is on has not been listed',
  'lets-nothing-in': () =>
    'whether the host firewall lets nothing in at all, whatever its rows say, is not known',
  'filter-of-forwarded': () => 'whether the filter’s own rules pass what is forwarded is not known',
  'translations-listed': () => 'its own translations may lead the packet to another port',
  'application-firewall': () =>
    'whether the firewall for programs lets the program take connections is not known',
  'later-row-claims': (d) =>
    `${d.row === '' ? 'an earlier row' : `row “${d.row}”`} claims the same ` +
    `port${d.to === null ? '' : ` for ${d.to}`}; which of the two the device uses is not known`,
  'mapping-there': (d) =>
    `whether the mapping of ${d.protocol} ${d.port}, which ends at ${d.until}, is still there is not known`,
  'earlier-packets': (d) => `${d.what} depends on what came before`,
  'limit-per-sender': () => 'a rate limit kept for each sender',
  'shield-later': () => 'the carrier’s shield drops unsolicited packets only after a while',
  'address-shared': () =>
    'the carrier says that the address is shared with others, and the gateway holds one of its own',
  'client-approved': () => 'which clients the carrier’s shield lets through is not known',
  'carrier-notice': (d) => `the carrier writes “${d.text}”`,
  'unread-notice': (d) => `what the carrier’s text ${fileName(d.file)} says is not understood`,
  'changed-since': (d) => `it was changed after what is known of it was taken (${d.title})`,
  'group-members': (d) => `who belongs to the group ${d.group} is not known`,
  'table-cut-off': (d) =>
    `the listing of table ${d.table} is not whole, or stands there twice; rules may be missing`,
  'nat-not-listed': () =>
    'the nat table has not been listed (ask for iptables-save, or iptables -t nat -L -n -v)',
  'filter-beside-forwards': (d) =>
    `its table of ${d.rows} filter ${d.rows === 1 ? 'rule' : 'rules'} stands beside the forwards, ` +
    'and how the two go together is not known (fill in the device, with its rules)',
  'active-profile': () => 'which network profile is active is not known',
  stealth: () =>
    'whether the host firewall holds back the refusal of a port on which nothing listens is not known',
  'port-of-program': (d) => `whether the port belongs to the program ${d.program} is not known`,
  hairpin: () =>
    'whether the gateway turns inside connections to its outside address round (hairpin) is not known',
  'answering-line': () => 'by which of its lines the gateway sends the answer is not known',
  'address-of-other-line': (d) =>
    `whether the carrier of ${d.line} lets the address of another line out is not known`,
  'relay-hides-client': () => 'whether the relay hides the client’s address is not known',
  'lease-holds': (d) =>
    `whether the lease of port ${d.port}, which ends at ${d.until}, still holds is not known`,
  'firewall-answers': () => 'whether the firewall itself answers on this port is not known',
  'filter-sees': (d) => `whether the filter sees the ${d.what} before or after translation is not known`,
  row: (d) => `row ${d.number}${d.name ? ` (${d.name})` : ''}: ${doubtText(d.of)}`,
  said: (d) => d.text,
};

/** What makes a condition or an action open, in a clause. */
export const doubtText = (doubt: Doubt): string => (TEXT[doubt.doubt] as (d: Doubt) => string)(doubt);
