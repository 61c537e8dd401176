import { expect } from 'chai';
import type { Doubt } from '../rules/index.ts';
import { doubtText } from './doubts.ts';

/** One of each kind: a kind that is added has to stand here too. */
const DOUBTS: { readonly [K in Doubt['doubt']]: readonly [Extract<Doubt, { doubt: K }>, string] } = {
  'not-modelled': [
    { doubt: 'not-modelled', part: 'match', text: '-m owner' },
    'the match -m owner is not modelled',
  ],
  'chain-not-modelled': [
    { doubt: 'chain-not-modelled', chain: 'in', family: 'netdev', table: 't', hook: 'ingress' },
    'chain in of the netdev table t (hook ingress) is not modelled',
  ],
  word: [{ doubt: 'word', field: 'action', text: 'perhaps' }, 'its action, “perhaps”, is not understood'],
  'not-shown': [
    { doubt: 'not-shown', fields: ['program', 'ports'] },
    'the listing does not show its program, its ports',
  ],
  narrowed: [{ doubt: 'narrowed', text: 'wireless' }, 'it is for “wireless” only'],
  'both-directions': [
    { doubt: 'both-directions' },
    'a rule for both directions on one interface is not modelled',
  ],
  'range-lengths': [{ doubt: 'range-lengths' }, 'the inside range is not as long as the outside range'],
  'ports-of-which-protocol': [
    { doubt: 'ports-of-which-protocol' },
    'which of its ports belong to which protocol is not understood',
  ],
  'which-list': [{ doubt: 'which-list' }, 'which of the lists in it belong to this machine is not known'],
  'further-list': [
    { doubt: 'further-list' },
    'whether a further list also belongs to this machine is not known (lists add up)',
  ],
  'rows-not-listed': [{ doubt: 'rows-not-listed' }, 'the rows of the host firewall have not been listed'],
  'policy-rows': [
    { doubt: 'policy-rows' },
    'the rows of the group policy, which count instead of its own, have not been listed',
  ],
  'rows-perhaps-not-whole': [
    { doubt: 'rows-perhaps-not-whole' },
    'whether the listing holds all rows of the host firewall is not known',
  ],
  'forwards-perhaps-not-whole': [
    { doubt: 'forwards-perhaps-not-whole' },
    'whether the table shows all forwards is not known',
  ],
  'portal-not-known': [
    { doubt: 'portal-not-known' },
    'the forwards are kept in the carrier’s portal, and its list is not known',
  ],
  'exposed-host': [
    { doubt: 'exposed-host' },
    'it has an exposed host, and which machine that is is not known',
  ],
  'which-table': [
    { doubt: 'which-table' },
    'it stands in one of several tables only, and which of them is the newest is not known',
  ],
  'host-firewall-on': [{ doubt: 'host-firewall-on' }, 'whether the host firewall is on has not been listed'],
  'lets-nothing-in': [
    { doubt: 'lets-nothing-in' },
    'whether the host firewall lets nothing in at all, whatever its rows say, is not known',
  ],
  'filter-of-forwarded': [
    { doubt: 'filter-of-forwarded' },
    'whether the filter’s own rules pass what is forwarded is not known',
  ],
  'translations-listed': [
    { doubt: 'translations-listed' },
    'its own translations may lead the packet to another port',
  ],
  'front-end-default': [
    { doubt: 'front-end-default' },
    'what the host firewall does with what no row names is not shown (its verbose listing says it)',
  ],
  'application-firewall': [
    { doubt: 'application-firewall' },
    'whether the firewall for programs lets the program take connections is not known',
  ],
  'later-row-claims': [
    { doubt: 'later-row-claims', row: 'Recorder', to: '192.168.50.44' },
    'row “Recorder” claims the same port for 192.168.50.44; which of the two the device uses is not known',
  ],
  'mapping-there': [
    { doubt: 'mapping-there', protocol: 'udp', port: 28410, until: 'noon' },
    'whether the mapping of udp 28410, which ends at noon, is still there is not known',
  ],
  'earlier-packets': [
    { doubt: 'earlier-packets', what: '-m recent' },
    '-m recent depends on what came before',
  ],
  'limit-per-sender': [{ doubt: 'limit-per-sender' }, 'a rate limit kept for each sender'],
  'shield-later': [
    { doubt: 'shield-later' },
    'the carrier’s shield drops unsolicited packets only after a while',
  ],
  'address-shared': [
    { doubt: 'address-shared' },
    'the carrier says that the address is shared with others, and the gateway holds one of its own',
  ],
  'client-approved': [
    { doubt: 'client-approved' },
    'which clients the carrier’s shield lets through is not known',
  ],
  'carrier-notice': [
    { doubt: 'carrier-notice', about: 'shield', text: 'we protect you' },
    'the carrier writes “we protect you”',
  ],
  'unread-notice': [
    { doubt: 'unread-notice', file: 'evidence/carrier/letter.txt' },
    'what the carrier’s text letter.txt says is not understood',
  ],
  'changed-since': [
    { doubt: 'changed-since', title: 'row added' },
    'it was changed after what is known of it was taken (row added)',
  ],
  'group-members': [{ doubt: 'group-members', group: 'app' }, 'who belongs to the group app is not known'],
  'table-cut-off': [
    { doubt: 'table-cut-off', table: 'filter' },
    'the listing of table filter is not whole, or stands there twice; rules may be missing',
  ],
  'nat-not-listed': [
    { doubt: 'nat-not-listed' },
    'the nat table has not been listed (ask for iptables-save, or iptables -t nat -L -n -v)',
  ],
  'filter-beside-forwards': [
    { doubt: 'filter-beside-forwards', rows: 1 },
    'its table of 1 filter rule stands beside the forwards, and how the two go together is not ' +
      'known (fill in the device, with its rules)',
  ],
  'active-profile': [{ doubt: 'active-profile' }, 'which network profile is active is not known'],
  stealth: [
    { doubt: 'stealth' },
    'whether the host firewall holds back the refusal of a port on which nothing listens is not known',
  ],
  'port-of-program': [
    { doubt: 'port-of-program', program: 'tided.exe' },
    'whether the port belongs to the program tided.exe is not known',
  ],
  hairpin: [
    { doubt: 'hairpin' },
    'whether the gateway turns inside connections to its outside address round (hairpin) is not known',
  ],
  'answering-line': [
    { doubt: 'answering-line' },
    'by which of its lines the gateway sends the answer is not known',
  ],
  'address-of-other-line': [
    { doubt: 'address-of-other-line', line: 'wan2' },
    'whether the carrier of wan2 lets the address of another line out is not known',
  ],
  'relay-hides-client': [
    { doubt: 'relay-hides-client' },
    'whether the relay hides the client’s address is not known',
  ],
  'lease-holds': [
    { doubt: 'lease-holds', port: 9000, until: 'noon' },
    'whether the lease of port 9000, which ends at noon, still holds is not known',
  ],
  'firewall-answers': [
    { doubt: 'firewall-answers' },
    'whether the firewall itself answers on this port is not known',
  ],
  'filter-sees': [
    { doubt: 'filter-sees', what: 'zone' },
    'whether the filter sees the zone before or after translation is not known',
  ],
  row: [
    { doubt: 'row', number: 3, name: 'Radio', of: { doubt: 'narrowed', text: 'x' } },
    'row 3 (Radio): it is for “x” only',
  ],
  said: [{ doubt: 'said', text: 'as the owner says' }, 'as the owner says'],
};

describe('the words of doubts', () => {
  for (const [kind, [doubt, text]] of Object.entries(DOUBTS))
    it(kind, () => expect(doubtText(doubt)).to.equal(text));

  it('several filter rules, and a row without a name', () => {
    expect(doubtText({ doubt: 'filter-beside-forwards', rows: 4 })).to.contain('4 filter rules');
    expect(doubtText({ doubt: 'row', number: 2, name: null, of: { doubt: 'stealth' } })).to.match(/^row 2: /);
  });
});
