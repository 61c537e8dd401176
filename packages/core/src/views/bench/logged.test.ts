import { expect } from 'chai';
import { caseFacts, HOME } from '../../testing/index.ts';
import { accept } from '../../proposals/index.ts';
import { benchView } from './view.ts';

const HEAD =
  '#Version: 1.5\n' +
  '#Software: host firewall\n' +
  '#Time Format: Local\n' +
  '#Fields: date time action protocol src-ip dst-ip src-port dst-port size tcpflags tcpsyn ' +
  'tcpack tcpwin icmptype icmpcode info path\n' +
  '\n';
const line = (
  time: string,
  action: string,
  from: string,
  to: string,
  ports: string,
  path = 'RECEIVE',
): string => `2026-11-24 ${time} ${action} TCP ${from} ${to} ${ports} 52 S 1 0 64240 - - - ${path}\n`;
const OWN = '192.168.50.20';
const LOG =
  HEAD +
  line('17:01:02', 'ALLOW', OWN, '203.0.113.9', '50100 443', 'SEND') +
  line('17:02:08', 'DROP', '198.51.100.97', OWN, '40001 6697') +
  line('17:02:09', 'DROP', '198.51.100.97', OWN, '40001 6697') +
  line('17:02:11', 'DROP', '198.51.100.97', OWN, '40001 6697');

const FILES = {
  'gateway/forwards':
    'Name\tProtocol\tOutside port\tInside address\tInside port\nirc\tTCP\t6697\t192.168.50.20\t6697\n',
  'host/log': LOG,
};
const SERVICE = { name: 'ferry office', endpoints: [{ protocol: 'tcp', port: 6697 }] };
const CLIENT = { address: '198.51.100.23', dials: '203.0.113.50:6697' };
const bench = (more: Record<string, unknown>, files: Record<string, string> = FILES) =>
  benchView(caseFacts(HOME, files, more));

describe('a drop log on the bench', () => {
  it('decides where the rules are not known: lost at the server, by whom it was seen', () => {
    const view = bench({ service: SERVICE, client: { ...CLIENT, address: '198.51.100.97' } });
    expect(view.verdict).to.include({ lamp: 'shut', sure: true });
    expect(view.verdict.headline).to.equal(
      'Lost at the server: its log shows 3 packets from 198.51.100.97 to TCP 6697 kept out, the ' +
        'last at 2026-11-24 17:02:11.',
    );
    const lamps = view.crossing.stops.map((s) => [s.id, s.lamp, s.beyond]);
    expect(lamps).to.deep.include(['gateway', 'lit', false]);
    expect(lamps).to.deep.include(['host', 'shut', false]);
    expect(lamps.at(-1)?.[2]).to.equal(true);
    const host = view.crossing.stops.find((s) => s.id === 'host');
    expect(host?.caption).to.equal('kept out, as its own log shows');
    expect(view.verdict.assumed).to.deep.equal([]);
    const mend = view.next.kind === 'mend' ? view.next.mend : null;
    expect(mend?.title).to.equal('Allow TCP 6697 from 198.51.100.97');
  });

  it('of another sender than the client it is unsure, and the sender can be taken over', () => {
    const view = bench({ service: SERVICE, client: CLIENT });
    expect(view.verdict).to.include({ lamp: 'fogged', sure: false });
    expect(view.verdict.headline).to.match(/^Not known yet: the log of the server shows 3 packets/);
    expect(view.verdict.detail).to.contain('said to be 198.51.100.23');
    const [proposal] = view.proposals;
    expect(proposal?.text).to.equal(
      '198.51.100.97 came to the service’s port; the case says that the client is 198.51.100.23.',
    );
    expect(
      proposal &&
        accept(caseFacts(HOME, FILES, { client: CLIENT }).document, proposal.proposal).client?.address,
    ).to.equal('198.51.100.97');
  });

  it('stands beside the verdict in one line that leads to where it is written, and is not said twice', () => {
    const client = { ...CLIENT, address: '198.51.100.97' };
    const two = { ...FILES, 'host/log': LOG + line('16:00:00', 'ALLOW', '192.0.2.9', OWN, '1 6697') };
    const view = bench({ service: SERVICE, client }, two);
    expect(view.verdict.headline).to.contain('from 198.51.100.97');
    expect(view.records).to.deep.equal([
      {
        text: 'Server, its log: 192.0.2.9 to TCP 6697: let in, the last at 2026-11-24 16:00:00',
        source: { file: 'evidence/host/log.txt', line: 10 },
      },
    ]);
    expect(bench({ service: { ...SERVICE, endpoints: [] }, client: CLIENT }).records).to.deep.equal([]);
  });

  it('names the port where nobody knows it, and not those that the server dialled itself', () => {
    const view = bench({ client: { address: '198.51.100.23' } });
    const offered = view.proposals.filter((p) => p.proposal.kind === 'logged-port');
    expect(offered.map((p) => p.text)).to.deep.equal([
      'Server: its log kept out 3 packets from 198.51.100.97 to TCP 6697, which the service ' +
        'of this case lacks.',
    ]);
    const [first] = offered;
    const taken = first && accept(caseFacts(HOME, FILES).document, first.proposal);
    expect(taken?.service?.endpoints).to.deep.equal([{ protocol: 'tcp', port: 6697 }]);
  });

  it('decides also where nobody has said what is dialled', () => {
    const view = bench({ service: SERVICE, client: { address: '198.51.100.97' } });
    expect(view.verdict).to.include({ lamp: 'shut', sure: true });
    expect(view.verdict.headline).to.match(/^Lost at the server: its log shows 3 packets/);
    const unsaid = bench({ service: SERVICE });
    expect(unsaid.verdict).to.include({ lamp: 'fogged', sure: false });
    expect(unsaid.verdict.detail).to.contain('Nobody has said which address the client has');
    expect(unsaid.next.kind).to.equal('check');
    expect(view.next.kind === 'mend' && view.next.mend.title).to.equal('Allow TCP 6697 from 198.51.100.97');
  });

  it('of a service whose port is known only the client’s own tries at another one are offered', () => {
    const other = { ...SERVICE, endpoints: [{ protocol: 'tcp', port: 6698 }] };
    const kinds = (client: string): string[] =>
      bench({ service: other, client: { address: client, dials: '203.0.113.50:6698' } }).proposals.map(
        (p) => p.proposal.kind,
      );
    expect(kinds('198.51.100.23')).to.not.include('logged-port');
    expect(kinds('198.51.100.97')).to.include('logged-port');
  });

  it('says nothing once something was changed there, and nothing of packets that it let in', () => {
    const client = { ...CLIENT, address: '198.51.100.97' };
    const change = { stop: 'host', yields: 'rules', title: 'a row', at: '2026-11-25T10:00:00Z' };
    expect(bench({ service: SERVICE, client, changes: [change] }).verdict.lamp).to.equal('fogged');
    const since = {
      ...FILES,
      'host/log': LOG + line('17:09:40', 'ALLOW', '198.51.100.97', OWN, '40009 6697'),
    };
    expect(bench({ service: SERVICE, client }, since).verdict.lamp, 'let in since').to.equal('fogged');
    const again = { ...FILES, 'host/log': line('17:00:00', 'ALLOW', '198.51.100.97', OWN, '40009 6697') };
    expect(
      bench(
        { service: SERVICE, client },
        { ...again, 'host/log': HEAD + again['host/log'] + LOG.slice(HEAD.length) },
      ).verdict.lamp,
      'kept out again',
    ).to.equal('shut');
    const strangers = { ...FILES, 'host/log': LOG + line('17:09:40', 'DROP', '192.0.2.9', OWN, '1 6697') };
    const of = { ...CLIENT, address: '198.51.100.23' };
    expect(bench({ service: SERVICE, client: of }, strangers).verdict.headline).to.not.contain('log');
    const let_in = { ...FILES, 'host/log': LOG.replaceAll('DROP', 'ALLOW') };
    expect(bench({ service: SERVICE, client }, let_in).verdict.lamp).to.equal('fogged');
  });

  it('the lines of a packet filter count as well, by the words of their rule', () => {
    const netfilter =
      'Nov 24 17:02:08 heron kernel: QUAY-IN-DENY: IN=eno1 OUT= MAC= SRC=198.51.100.97 ' +
      'DST=192.168.50.20 LEN=60 PROTO=TCP SPT=40001 DPT=6697 SYN \n';
    const view = bench(
      { service: SERVICE, client: { ...CLIENT, address: '198.51.100.97' } },
      { ...FILES, 'host/log': netfilter },
    );
    expect(view.verdict.headline).to.match(
      /^Lost at the server: its log shows a packet from 198\.51\.100\.97/,
    );
  });
});
