import { expect } from 'chai';
import { mendCases } from '../testing/index.ts';
import { commandsOf } from './index.ts';

const { linuxGateway, mendSteps, places, SERVER, told } = mendCases;
type Given = mendCases.Given;

/** A gateway of nft with a translation for the service, and a filter of what it passes on. */
const passing = (forward: string, more: { nat?: string; output?: string; input?: string } = {}): Given =>
  linuxGateway({
    'gateway/rules':
      'table ip nat {\n\tchain pre {\n\t\ttype nat hook prerouting priority dstnat; policy accept;\n' +
      `\t\t${more.nat ?? 'ip daddr 203.0.113.50 tcp dport 8214 dnat to 192.168.50.20'}\n\t}\n}\n` +
      'table ip filter {\n\tchain forward {\n\t\ttype filter hook forward priority filter; policy drop;\n' +
      `\t\tct state established,related accept\n${forward
        .split('\n')
        .map((r) => `\t\t${r}\n`)
        .join('')}\t}\n}\n`,
  });
const saved = (forward: string): Given =>
  linuxGateway({
    'gateway/rules':
      '*nat\n:PREROUTING ACCEPT [0:0]\n:INPUT ACCEPT [0:0]\n:OUTPUT ACCEPT [0:0]\n' +
      ':POSTROUTING ACCEPT [0:0]\n' +
      '-A PREROUTING -d 203.0.113.50/32 -p tcp -m tcp --dport 8214 -j DNAT --to-destination ' +
      '192.168.50.20\nCOMMIT\n' +
      '*filter\n:INPUT ACCEPT [0:0]\n:FORWARD DROP [0:0]\n:OUTPUT ACCEPT [0:0]\n' +
      `-A FORWARD -m state --state RELATED,ESTABLISHED -j ACCEPT\n${forward}\nCOMMIT\n`,
  });

interface Told {
  readonly steps: readonly string[];
  readonly command?: string;
  readonly at?: readonly string[];
}

describe('a filter of what a gateway passes on', () => {
  const ACCEPT = 'ip daddr 192.168.50.20 tcp dport 8214 accept';
  const table: readonly (readonly [string, Given, Told])[] = [
    ['it lets the service pass', passing(ACCEPT), { steps: ['answered'] }],
    [
      'nothing lets it pass',
      passing('tcp dport 22 accept'),
      {
        steps: ['filter-missing at gateway', 'answered'],
        command: 'nft insert rule ip filter forward tcp dport 8214 accept comment bright-ferry-tcp-8214',
      },
    ],
    [
      'a rule above the right one ends it',
      passing(`tcp dport 8000-8999 drop\n${ACCEPT}`),
      { steps: ['filter-order at gateway', 'answered'], at: ['gateway/rules:11'] },
    ],
    [
      'a rule names the address that was dialled',
      passing('ip daddr 203.0.113.50 tcp dport 8214 accept'),
      {
        steps: ['filter-side at gateway', 'answered'],
        command:
          'nft replace rule ip filter forward handle $(nft -s -a list chain ip filter forward | grep -F -- ' +
          `'ip daddr 203.0.113.50 tcp dport 8214 accept' | sed -n '1s/.*# handle //p') ` +
          'ip daddr 192.168.50.20 tcp dport 8214 accept comment bright-ferry-tcp-8214',
        at: ['gateway/rules:11'],
      },
    ],
    [
      'the same among rules for others',
      passing('ip daddr 203.0.113.50 tcp dport 22 accept\nip daddr 203.0.113.50 tcp dport 8214 accept'),
      { steps: ['filter-side at gateway', 'answered'], at: ['gateway/rules:12'] },
    ],
    [
      'a rule that names it and drops is none',
      passing('ip daddr 203.0.113.50 tcp dport 8214 drop'),
      { steps: ['filter-missing at gateway', 'answered'] },
    ],
    [
      'a rule that names it for another port is none',
      passing('ip daddr 203.0.113.50 tcp dport 8241 accept'),
      { steps: ['filter-missing at gateway', 'answered'] },
    ],
    [
      'a rule for a third address is none',
      passing('ip daddr 203.0.113.99 tcp dport 8214 accept'),
      { steps: ['filter-missing at gateway', 'answered'] },
    ],
    [
      'a rule for the outside port, where the inside one is another',
      passing('ip daddr 203.0.113.50 tcp dport 80 accept', {
        nat: 'ip daddr 203.0.113.50 tcp dport 80 dnat to 192.168.50.20:8214',
      }),
      { steps: ['fwd-outside-port at gateway', 'filter-missing at gateway', 'answered'] },
    ],
    [
      'one digit off in the source',
      passing('ip saddr 198.51.100.33 tcp dport 8214 accept'),
      { steps: ['fwd-source at gateway', 'answered'], at: ['gateway/rules:11'] },
    ],
    [
      'sources of a rule that drops are none',
      passing('ip saddr 198.51.100.33 tcp dport 8214 drop'),
      { steps: ['filter-missing at gateway', 'answered'] },
    ],
    [
      'sources of a rule for another port are none',
      passing('ip saddr 198.51.100.33 tcp dport 8241 accept'),
      { steps: ['filter-missing at gateway', 'answered'] },
    ],
    [
      'iptables: nothing lets it pass',
      saved('-A FORWARD -p tcp -m tcp --dport 22 -j ACCEPT'),
      {
        steps: ['filter-missing at gateway', 'answered'],
        command: 'iptables -t filter -I FORWARD -p tcp --dport 8214 -j ACCEPT',
      },
    ],
    [
      'iptables: a rule names the address that was dialled',
      saved('-A FORWARD -d 203.0.113.50/32 -p tcp -m tcp --dport 8214 -j ACCEPT'),
      {
        steps: ['filter-side at gateway', 'answered'],
        command: 'iptables -t filter -R FORWARD 2 -d 192.168.50.20 -p tcp -m tcp --dport 8214 -j ACCEPT',
      },
    ],
  ];
  for (const [title, given, expected] of table)
    it(title, () => {
      const steps = mendSteps(given);
      const [first] = steps;
      const made = {
        steps: told(steps),
        command: first?.mend ? commandsOf(first.mend).commands.join('\n') : '',
        at: first ? places(first) : [],
      };
      expect(made).to.deep.include(expected);
    });
});

describe('a server that drops its own answers', () => {
  const rules = (output: string): Given => ({
    ...linuxGateway({}),
    files: {
      ...SERVER,
      'gateway/status': 'WAN IP 203.0.113.50\nLAN IP 192.168.50.1\n',
      'gateway/forwards': 'tcp 8214 192.168.50.20 8214\n',
      'host/rules':
        'table ip f {\n\tchain o {\n\t\ttype filter hook output priority filter; policy drop;\n' +
        `\t\t${output}\n\t}\n}\n`,
    },
  });
  it('by its policy: a rule for answers from the port', () => {
    const [first, second] = mendSteps(rules('tcp sport 22 accept'));
    expect(first?.mend?.fault).to.equal('host-output-deny');
    expect(first?.mend && commandsOf(first.mend).commands).to.deep.equal([
      'nft insert rule ip f o tcp sport 8214 accept comment bright-ferry-tcp-8214',
    ]);
    expect(second?.trace.outcome).to.equal('answered');
  });

  it('by a rule', () =>
    expect(told(mendSteps(rules('tcp sport 8000-9000 drop')))).to.deep.equal([
      'host-output-deny at host',
      'answered',
    ]));

  it('answers that pass by their state are let out', () =>
    expect(told(mendSteps(rules('ct state established accept')))).to.deep.equal(['answered']));
});
