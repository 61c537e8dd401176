import { expect } from 'chai';
import { caseSite, HOME, outcome, run, serverEvidence } from '../testing/index.ts';

const SERVER = serverEvidence('192.168.50.20/24', '192.168.50.1', ['tcp 0.0.0.0:8214 gullcast']);
const LEASES =
  'Device\tIP address\tMAC address\n' +
  'hall-pc\t192.168.50.20\t02:48:4e:00:00:20\n' +
  'printer\t192.168.50.31\t02:48:4e:00:01:31\n';

const FORWARDS = 'Name\tProtocol\tExternal port\tDevice\tInternal port\nradio\tTCP\t8214\thall-pc\t8214\n';

const dial = (target: string, leases = LEASES, below = ''): string => {
  const forwards =
    'Name\tProtocol\tExternal port\tDevice\tInternal port\n' +
    `radio\tTCP\t8214\t${target}\t8214\n` +
    'print\tTCP\t9100\tprinter\t9100\n' +
    `${below}`;
  const site = caseSite(HOME, { 'gateway/forwards': forwards, 'gateway/leases': leases, ...SERVER });
  return outcome(run(site, '198.51.100.23:40001', '203.0.113.50:8214/tcp'));
};

describe('a forward to a device by its name', () => {
  const SAME = [
    'hall-pc',
    'HALL-PC',
    'Hall PC',
    'hall_pc',
    '02:48:4E:00:00:20',
    '02-48-4e-00-00-20',
    'hall-pc (02:48:4e:00:00:20)',
    'hall-pc (192.168.50.20)',
    'hall-pc - 192.168.50.20',
    '192.168.50.20 (hall-pc)',
  ];
  for (const target of SAME) it(`“${target}”`, () => expect(dial(target)).to.equal('answered at host'));

  const OPEN = ['hall', 'hall-pc-2', 'not 192.168.50.20', 'hall-pc (02:48:4e:00:01:31)'];
  for (const target of OPEN)
    it(`“${target}” is nobody’s for sure`, () => expect(dial(target)).to.equal('unknown'));

  it('a name that two devices have is neither’s', () => {
    const two = `${LEASES}hall-pc\t192.168.50.44\t02:48:4e:00:00:44\n`;
    expect(dial('hall-pc', two)).to.equal('unknown');
    expect(dial('02:48:4e:00:00:20', two)).to.equal('answered at host');
  });

  it('a machine with addresses of both families gets the forward at its IPv4 address', () => {
    expect(dial('hall-pc', `${LEASES}hall-pc\t2001:db8:50::20\t02:48:4e:00:00:20\n`)).to.equal(
      'answered at host',
    );
  });

  it('a newer list stands over an older one', () => {
    const older = LEASES.replace('192.168.50.20', '192.168.50.44');
    const list = (file: string, at?: string) => ({
      stop: 'gateway',
      file: `evidence/gateway/${file}.txt`,
      at,
    });
    const from = (before?: string, after?: string): string => {
      const files = {
        'gateway/forwards': FORWARDS,
        'gateway/before': older,
        'gateway/after': LEASES,
        ...SERVER,
      };
      const evidence = [
        ...['gateway/forwards', ...Object.keys(SERVER)].map((n) => ({
          stop: n.split('/')[0],
          file: `evidence/${n}.txt`,
          whole: true,
        })),
        list('before', before),
        list('after', after),
      ];
      const site = caseSite(HOME, files, { evidence });
      return outcome(run(site, '198.51.100.23:40001', '203.0.113.50:8214/tcp'));
    };
    expect(from('2026-11-01T10:00:00Z', '2026-11-20T10:00:00Z')).to.equal('answered at host');
    expect(from('2026-11-20T10:00:00Z', '2026-11-01T10:00:00Z')).to.not.equal('answered at host');
    expect(from()).to.equal('unknown');
  });
});

describe('words below a table of forwards that say that it is not in force', () => {
  const WORDS = [
    '* changes not saved',
    'Changes take effect after restart',
    'without effect until saved',
    'Pending changes',
    'Neustart erforderlich',
  ];
  for (const text of WORDS) it(text, () => expect(dial('hall-pc', LEASES, `${text}\n`)).to.equal('unknown'));
  for (const text of ['No pending changes', '0 unsaved changes', 'All changes are saved'])
    it(`${text}: nothing waits`, () =>
      expect(dial('hall-pc', LEASES, `${text}\n`)).to.equal('answered at host'));
  it('a footnote is of the rows that carry its mark', () =>
    expect(dial('hall-pc', LEASES, 'web*\tTCP\t443\thall-pc\t443\n* not yet applied\n')).to.equal(
      'answered at host',
    ));
});
