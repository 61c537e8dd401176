import { expect } from 'chai';
import { trace } from '../crossing/index.ts';
import { caseFacts, mendCases } from '../testing/index.ts';
import { benchView, diagnosis } from '../views/index.ts';
import { commandsOf, type MendStep } from './index.ts';

const { GATEWAY, HOST, linuxGateway, mendSteps, NEIGHBOUR, NEIGHBOUR_FILES, places, told } = mendCases;
type Given = mendCases.Given;

const TO = '192.168.50.20';
/** A client beside the server dials the outside address of a Linux gateway. */
const inside = (rules: string, more: Partial<Given> = {}): Given => ({
  path: [NEIGHBOUR, GATEWAY, HOST],
  from: '192.168.50.77:40000',
  ...more,
  files: { ...linuxGateway({ 'gateway/rules': rules }).files, ...NEIGHBOUR_FILES, ...more.files },
});
const POST =
  '\tchain post {\n\t\ttype nat hook postrouting priority srcnat; policy accept;\n' +
  '\t\toifname "wan" masquerade\n\t}\n';
const nft = (rule: string, post = POST): string =>
  'table ip nat {\n\tchain pre {\n\t\ttype nat hook prerouting priority dstnat; policy accept;\n' +
  `\t\t${rule}\n\t}\n${post}}\n` +
  'table ip f {\n\tchain i {\n\t\ttype filter hook input priority filter; policy drop;\n\t}\n}\n';
const BOUND = `iifname "wan" tcp dport 8214 dnat to ${TO}`;
const FREE = `ip daddr 203.0.113.50 tcp dport 8214 dnat to ${TO}`;
const SAVED = (rule: string): string =>
  '*nat\n:PREROUTING ACCEPT [0:0]\n:INPUT ACCEPT [0:0]\n:OUTPUT ACCEPT [0:0]\n:POSTROUTING ACCEPT [0:0]\n' +
  `-A PREROUTING ${rule}\n-A POSTROUTING -o wan -j MASQUERADE\nCOMMIT\n` +
  '*filter\n:INPUT DROP [0:0]\n:FORWARD ACCEPT [0:0]\n:OUTPUT ACCEPT [0:0]\nCOMMIT\n';

/** The other way of a hairpin, and how the packet ends with it. */
function turned(first: MendStep | undefined): {
  commands: readonly string[];
  undo: readonly string[];
  then: string;
} {
  const or = first?.mend?.or;
  const after = first && or?.apply?.(first.scene);
  return {
    ...(or ? commandsOf(or) : { commands: [], undo: [] }),
    then: after ? trace(after.site, after.packet).outcome : 'nothing',
  };
}

describe('a Linux gateway that does not turn inside callers round', () => {
  const PRE = 'ip saddr 192.168.50.0/24 ip daddr 203.0.113.50 tcp dport 8214 dnat to 192.168.50.20';
  const BACK = 'ip saddr 192.168.50.0/24 ip daddr 192.168.50.20 tcp dport 8214 masquerade';
  const MARK = 'comment bright-ferry-tcp-8214';
  const table: readonly (readonly [string, Given, readonly string[]])[] = [
    [
      'its rule is bound to the line outward',
      inside(nft(BOUND)),
      [`nft insert rule ip nat pre ${PRE} ${MARK}`, `nft insert rule ip nat post ${BACK} ${MARK}`],
    ],
    [
      'it translates, and the answer goes straight back',
      inside(nft(FREE)),
      [`nft insert rule ip nat post ${BACK} ${MARK}`],
    ],
    [
      'the same without translations of the source',
      inside(nft(FREE, '')),
      [
        'nft add table ip nat',
        "nft add chain ip nat postrouting '{ type nat hook postrouting priority srcnat; }'",
        `nft add rule ip nat postrouting ${BACK}`,
      ],
    ],
    [
      'iptables: its rule is bound to the line outward, and leads to another port',
      inside(SAVED(`-i wan -p tcp -m tcp --dport 80 -j DNAT --to-destination ${TO}:8214`), {
        to: '203.0.113.50:80/tcp',
      }),
      [
        'iptables -t nat -I PREROUTING 1 -s 192.168.50.0/24 -d 203.0.113.50 -p tcp --dport 80 -j DNAT ' +
          '--to-destination 192.168.50.20:8214',
        'iptables -t nat -I POSTROUTING 1 -s 192.168.50.0/24 -d 192.168.50.20 -p tcp --dport ' +
          '8214 -j MASQUERADE',
      ],
    ],
  ];
  for (const [title, given, commands] of table)
    it(title, () => {
      const steps = mendSteps(given);
      expect(told(steps)).to.deep.equal(['hairpin-missing at gateway', 'answered']);
      const other = turned(steps[0]);
      expect(other.commands).to.deep.equal(commands);
      expect(other.then).to.equal('answered');
      expect(steps[0] && places(steps[0])).to.have.length(1);
    });

  it('shows both ways in the diagnosis, each with its number, and on the bench', () => {
    const { files, path = [] } = inside(nft(BOUND));
    const facts = caseFacts(path, files, {
      service: { name: 'Gullcast', audience: 'anyone', endpoints: [{ protocol: 'tcp', port: 8214 }] },
      client: { address: '192.168.50.77', dials: '203.0.113.50:8214' },
    });
    const { mends } = diagnosis(facts);
    expect(mends.map((m) => [m.fault, m.variant, m.words.commands.length])).to.deep.equal([
      ['hairpin-missing', 1, 0],
      ['hairpin-missing', 2, 2],
    ]);
    const { next } = benchView(facts);
    const or = next.kind === 'mend' ? next.mend.or : null;
    expect(or?.title).to.equal('Turn callers from 192.168.50.0/24 round at the gateway');
    expect(or?.rehearsal?.after.verdict.lamp).to.equal('lit');
  });

  it('is taken back from the last rule to the first', () => {
    const [first] = mendSteps(
      inside(SAVED(`-i wan -p tcp -m tcp --dport 8214 -j DNAT --to-destination ${TO}`)),
    );
    expect(turned(first).undo.map((line) => line.split(' ').slice(0, 5).join(' '))).to.deep.equal([
      'iptables -t nat -D POSTROUTING',
      'iptables -t nat -D PREROUTING',
    ]);
  });

  it('the name that is dialled inside is the first way', () => {
    const [first] = mendSteps(inside(nft(BOUND)));
    expect(first?.mend?.finding.found).to.equal('hairpin');
  });

  it('callers of another inside network come back past the gateway: the translation alone', () => {
    const guest = (text: string): string => text.replaceAll('192.168.50.', '192.168.60.');
    const given = inside(nft(BOUND), { from: '192.168.60.77:40000' });
    const addresses =
      `${given.files['gateway/addresses']}4: guests: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n` +
      '    inet 192.168.60.1/24 scope global guests\n';
    const files = {
      ...given.files,
      ...Object.fromEntries(Object.entries(NEIGHBOUR_FILES).map(([k, v]) => [k, guest(v)])),
      'gateway/addresses': addresses,
      'gateway/routes': `${given.files['gateway/routes']}192.168.60.0/24 dev guests scope link\n`,
    };
    const [first] = mendSteps({ ...given, files });
    const { commands, then } = turned(first);
    expect(commands).to.deep.equal([
      'nft insert rule ip nat pre ip saddr 192.168.60.0/24 ip daddr 203.0.113.50 tcp dport 8214 dnat to ' +
        `192.168.50.20 ${MARK}`,
    ]);
    expect(then).to.equal('answered');
  });

  it('a caller from outside whose rule is bound to another line is no hairpin', () => {
    const given = linuxGateway({ 'gateway/rules': nft(`iifname "wan1" tcp dport 8214 dnat to ${TO}`) });
    expect(mendSteps(given)[0]?.mend?.fault).to.equal('fwd-line');
  });

  it('without any rule for it a forward is missing', () =>
    expect(mendSteps(inside(nft(`iifname "wan" tcp dport 80 dnat to ${TO}`)))[0]?.mend?.fault).to.equal(
      'fwd-none',
    ));
});
