import { expect } from 'chai';
import { assumptionText } from '../words/index.ts';
import { HOME, caseSite, outcome, run, serverEvidence } from '../testing/index.ts';

const TABLE = ['8214', '22', '5432']
  .map((p) => `TCP\t${p}\t192.168.50.20\t${p}\n`)
  .reduce((all, row) => all + row, 'Protocol\tExternal port\tInternal IP\tInternal port\n');
const SERVER = serverEvidence(
  '192.168.50.20/24',
  '192.168.50.1',
  ['tcp 0.0.0.0:8214 gullcast', 'tcp 0.0.0.0:22 sshd', 'tcp 0.0.0.0:5432 postgres'],
  '',
);

interface Listed {
  readonly text: string;
  readonly command?: string;
  readonly part?: boolean;
  /** Another interface of the server. */
  readonly device?: string;
}

const siteOf = ({ text, command, part, device }: Listed) => {
  const addresses = device
    ? `${SERVER['host/addresses']}3: ${device}: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n` +
      `    inet 172.17.0.1/16 scope global ${device}\n`
    : SERVER['host/addresses'];
  const files: Record<string, string> = {
    ...SERVER,
    ...(addresses === undefined ? {} : { 'host/addresses': addresses }),
    'gateway/table': TABLE,
    'host/front': text,
  };
  const evidence = Object.keys(files).map((name) => ({
    stop: name.split('/')[0],
    file: `evidence/${name}.txt`,
    ...(name === 'host/front'
      ? { ...(command === undefined ? {} : { command }), ...(part ? { part } : {}) }
      : { whole: true }),
  }));
  return caseSite(HOME, files, { evidence });
};
const meets = (listed: Listed, port: number, from = '198.51.100.23'): string =>
  outcome(run(siteOf(listed), from, `203.0.113.50:${port}/tcp`));

const ROWS = 'To                         Action      From\n--                         ------      ----\n';
const VERBOSE =
  'Logging: on (low)\nDefault: deny (incoming), allow (outgoing), disabled (routed)\nNew profiles: skip\n';
const ufw = (rows: readonly string[], verbose = true): Listed => ({
  text: 'Status: active\n' + `${verbose ? VERBOSE : ''}\n` + `${ROWS}${rows.map((r) => `${r}\n`).join('')}`,
  command: verbose ? 'ufw status verbose' : 'ufw status',
});
const ALLOW = '8214/tcp                   ALLOW IN    Anywhere';

describe('ufw, as its listing shows it', () => {
  it('a row lets in, its default keeps the rest out', () => {
    expect(meets(ufw([ALLOW]), 8214)).to.equal('answered at host');
    expect(meets(ufw([ALLOW]), 22)).to.equal('lost at host');
  });

  it('the first row that fits decides', () => {
    const deny = '8214/tcp                   DENY IN     Anywhere';
    expect(meets(ufw([deny, ALLOW]), 8214)).to.equal('lost at host');
    expect(meets(ufw([ALLOW, deny]), 8214)).to.equal('answered at host');
    expect(meets(ufw(['8214/tcp                   REJECT IN   Anywhere']), 8214)).to.equal('refused at host');
  });

  it('senders, ranges, addresses, interfaces and comments', () => {
    const rows: readonly (readonly [string, string])[] = [
      ['8214/tcp                   ALLOW IN    198.51.100.0/24            # friends', 'answered at host'],
      ['8214/tcp                   ALLOW IN    198.51.101.0/24', 'lost at host'],
      ['8000:8300/tcp              ALLOW IN    Anywhere', 'answered at host'],
      ['80,8214/tcp                ALLOW IN    Anywhere', 'answered at host'],
      ['8214                       ALLOW IN    Anywhere', 'answered at host'],
      ['8214/udp                   ALLOW IN    Anywhere', 'lost at host'],
      ['192.168.50.20 8214/tcp     ALLOW IN    Anywhere', 'answered at host'],
      ['192.168.50.21 8214/tcp     ALLOW IN    Anywhere', 'lost at host'],
      ['8214/tcp on eno1           ALLOW IN    Anywhere', 'answered at host'],
      ['8214/tcp on eno2           ALLOW IN    Anywhere', 'lost at host'],
      ['8214/tcp (Gullcast)        ALLOW IN    Anywhere', 'answered at host'],
      ['8214/tcp                   ALLOW IN    Anywhere                   (log)', 'answered at host'],
      ['8214/tcp (v6)              ALLOW IN    Anywhere (v6)', 'lost at host'],
      ['Anywhere                   ALLOW IN    198.51.100.23', 'answered at host'],
      ['8214/tcp                   LIMIT IN    Anywhere', 'unknown'],
      ['8214/tcp                   ALLOW OUT   Anywhere (out)', 'lost at host'],
      ['8214/tcp                   ALLOW FWD   Anywhere', 'lost at host'],
    ];
    for (const [row, wanted] of rows) expect(meets(ufw([row]), 8214), row).to.equal(wanted);
  });

  it('an application profile that is not spelled out may be any port', () =>
    expect(meets(ufw(['Gullcast                   ALLOW IN    Anywhere']), 8214)).to.equal('unknown'));

  it('without the verbose form its default is not shown', () => {
    expect(meets(ufw(['8214/tcp                   ALLOW       Anywhere'], false), 8214)).to.equal(
      'answered at host',
    );
    expect(meets(ufw(['8214/tcp                   ALLOW       Anywhere'], false), 22)).to.equal('unknown');
  });

  it('switched off it keeps nothing out', () =>
    expect(meets({ text: 'Status: inactive\n', command: 'ufw status' }, 8214)).to.equal('answered at host'));

  it('a part of its rows decides nothing', () => {
    expect(meets({ ...ufw([ALLOW]), part: true }, 8214)).to.equal('unknown');
    expect(meets({ ...ufw([ALLOW]), command: 'ufw status verbose | grep 8214' }, 8214)).to.equal('unknown');
  });

  it('a row that nobody can read may stand before any other', () =>
    expect(meets(ufw(['flurb flurb flurb', ALLOW]), 8214)).to.equal('unknown'));

  it('beside containers, whose rules pass by it, nothing is sure', () =>
    expect(meets({ ...ufw([ALLOW]), device: 'docker0' }, 8214)).to.equal('unknown'));

  it('beside a table of other rules that was listed in part, nothing is sure', () => {
    const files = {
      ...SERVER,
      'gateway/table': TABLE,
      'host/front': 'Status: inactive\n',
      'host/nft':
        'table inet guard {\n chain in {\n  type filter hook input priority 0; policy drop;\n }\n}\n',
    };
    const evidence = Object.keys(files).map((name) => ({
      stop: name.split('/')[0],
      file: `evidence/${name}.txt`,
      ...(name === 'host/nft' ? { command: 'nft list table inet guard', part: true } : { whole: true }),
    }));
    const site = caseSite(HOME, files, { evidence });
    expect(outcome(run(site, '198.51.100.23', '203.0.113.50:8214/tcp'))).to.equal('unknown');
  });

  it('what else filters is taken for granted, and said', () => {
    const { assumed } = run(siteOf(ufw([ALLOW])), '198.51.100.23', '203.0.113.50:8214/tcp');
    const texts = assumed.map((a) => assumptionText(a, (id) => (id === 'host' ? 'Server' : (id ?? ''))));
    expect(texts).to.include('nothing but ufw filters on the server');
  });
});

const zone = (more: Readonly<Record<string, string>>, name = 'public'): Listed => ({
  text: `${name} (active)\n${Object.entries({
    target: 'default',
    'icmp-block-inversion': 'no',
    interfaces: 'eno1',
    sources: '',
    services: '',
    ports: '',
    protocols: '',
    forward: 'yes',
    masquerade: 'no',
    'forward-ports': '',
    'source-ports': '',
    'icmp-blocks': '',
    'rich rules': '',
    ...more,
  })
    .map(([k, v]) => `  ${k}: ${v}\n`)
    .join('')}`,
  command: 'firewall-cmd --list-all',
});

describe('firewalld, as its zone shows it', () => {
  it('ports and services let in, its target refuses the rest', () => {
    expect(meets(zone({ ports: '8214/tcp' }), 8214)).to.equal('answered at host');
    expect(meets(zone({ services: 'ssh' }), 22)).to.equal('answered at host');
    expect(meets(zone({ services: 'ssh' }), 8214)).to.equal('refused at host');
    expect(meets(zone({ target: 'DROP' }), 8214)).to.equal('lost at host');
    expect(meets(zone({ target: 'ACCEPT' }), 8214)).to.equal('answered at host');
  });

  it('a service whose ports are not known may be any', () =>
    expect(meets(zone({ services: 'gullcast' }), 8214)).to.equal('unknown'));

  it('rich rules that refuse come before all that lets in', () => {
    const rule = (text: string): string => `\n\trule family="ipv4" ${text}`;
    const friends = 'source address="198.51.100.0/24" port port="8214" protocol="tcp"';
    expect(meets(zone({ 'rich rules': rule(`${friends} accept`) }), 8214)).to.equal('answered at host');
    expect(meets(zone({ 'rich rules': rule(`${friends} accept`) }), 8214, '203.0.113.9')).to.equal(
      'refused at host',
    );
    expect(meets(zone({ ports: '8214/tcp', 'rich rules': rule(`${friends} drop`) }), 8214)).to.equal(
      'lost at host',
    );
    expect(meets(zone({ 'rich rules': rule(`${friends} accept limit value="1/m"`) }), 8214)).to.equal(
      'unknown',
    );
  });

  it('an interface that is in no listed zone is in one that was not shown', () =>
    expect(meets(zone({ interfaces: 'eno7', ports: '8214/tcp' }), 8214)).to.equal('unknown'));

  it('senders of a zone go by that one', () =>
    expect(meets(zone({ interfaces: 'eno7', sources: '198.51.100.0/24', ports: '8214/tcp' }), 8214)).to.equal(
      'answered at host',
    ));

  it('a line of a zone that is not known here may decide before its rows', () =>
    expect(meets(zone({ ports: '8214/tcp', quarantine: 'eno1' }), 8214)).to.equal('unknown'));

  it('a port that is sent on elsewhere is open', () =>
    expect(
      meets(zone({ ports: '8214/tcp', 'forward-ports': '\n\tport=8214:proto=tcp:toport=80:toaddr=' }), 8214),
    ).to.equal('unknown'));

  it('that does not run keeps nothing out', () => {
    expect(meets({ text: 'FirewallD is not running\n' }, 8214)).to.equal('answered at host');
    expect(meets({ text: 'not running\n', command: 'firewall-cmd --state' }, 8214)).to.equal(
      'answered at host',
    );
  });
});
