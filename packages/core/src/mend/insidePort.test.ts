import { expect } from 'chai';
import { forwardingGateway, mendCases, serverEvidence } from '../testing/index.ts';

const { CARRIER, CLIENT, GATEWAY, HOST, mendSteps, nft, places, routerAt, STATUS, told, values } = mendCases;
type Given = mendCases.Given;

const listening = (sockets: readonly string[], rules?: string) =>
  serverEvidence('192.168.50.20/24', '192.168.50.1', sockets, ...(rules === undefined ? [] : [rules]));
/** A router that leads the service to port 8100, and what listens. */
const HEAD = 'Name\tProtocol\tOutside port\tInside address\tInside port\n';
const moved = (
  files: Record<string, string>,
  forwards = `${HEAD}cast\tTCP\t8214\t192.168.50.20\t8100\n`,
): Given => ({
  files: { 'gateway/status': STATUS, 'gateway/forwards': forwards, ...files },
});

describe('the forward leads to another port of the server', () => {
  const INSIDE = ['fwd-inside-port at gateway', 'answered'];
  const table: readonly (readonly [string, Given, readonly string[]])[] = [
    ['the program is on the dialled one', moved(listening(['tcp 0.0.0.0:8214 gullcast'])), INSIDE],
    ['on its own address', moved(listening(['tcp 192.168.50.20:8214 gullcast'])), INSIDE],
    ['the program is where it leads', moved(listening(['tcp 0.0.0.0:8100 gullcast'])), ['answered']],
    [
      'programs on both: another fault',
      moved(listening(['tcp 0.0.0.0:8214 gullcast', 'tcp 127.0.0.1:8100 gullcast'])),
      INSIDE,
    ],
    ['nothing on either', moved(listening(['tcp 0.0.0.0:22 sshd'])), ['listen-none at host', 'answered']],
    [
      'nothing on either, and its filter lets in the dialled one',
      moved(listening(['tcp 0.0.0.0:22 sshd'], nft('tcp dport 8214 accept'))),
      ['fwd-inside-port at gateway', 'listen-none at host', 'answered'],
    ],
    [
      'nothing on either, and its filter lets in both',
      moved(listening(['tcp 0.0.0.0:22 sshd'], nft('tcp dport 8000-9000 accept'))),
      ['listen-none at host', 'answered'],
    ],
    [
      'nothing on either, and its filter drops the dialled one',
      moved(listening(['tcp 0.0.0.0:22 sshd'], nft('tcp dport 8214 drop', 'accept'))),
      ['listen-none at host', 'answered'],
    ],
    [
      'the dialled one listens to the other protocol',
      moved(listening(['udp 0.0.0.0:8214 gullcast'])),
      ['fwd-inside-port at gateway', 'listen-protocol at host', 'answered'],
    ],
    [
      'its filter drops what was moved, and the program is on the dialled one',
      moved(listening(['tcp 0.0.0.0:8214 gullcast'], nft('tcp dport 8214 accept'))),
      INSIDE,
    ],
  ];
  for (const [title, given, expected] of table)
    it(title, () => expect(told(mendSteps(given))).to.deep.equal(expected));

  it('where the server keeps silent about a closed port', () => {
    const block = { in: 'block', out: 'allow' };
    const allowed = { name: 'Other', direction: 'in', action: 'allow', protocol: 'tcp', localPorts: '8100' };
    const settings = {
      kind: 'host-profiles',
      active: 'private',
      profiles: { domain: block, private: block, public: block },
      rows: [allowed, { ...allowed, name: 'Gullcast', localPorts: '8214' }],
      silentWhenClosed: true,
    };
    const given = moved(listening(['tcp 0.0.0.0:8214 gullcast'], ''));
    const steps = mendSteps({ ...given, path: [CLIENT, CARRIER, GATEWAY, { ...HOST, settings }] });
    expect(steps[0]?.trace.outcome).to.equal('lost');
    expect(told(steps)).to.deep.equal(INSIDE);
  });

  it('the very row is put right, and none beside it', () => {
    const rows =
      'web\tTCP\t80\t192.168.50.20\t8100\n' +
      'cast\tTCP\t8214\t192.168.50.20\t8100\n' +
      'more\tTCP\t9000\t192.168.50.20\t8100\n';
    const steps = mendSteps(moved(listening(['tcp 0.0.0.0:8214 gullcast']), HEAD + rows));
    expect(told(steps)).to.deep.equal(INSIDE);
    expect(steps[0] && places(steps[0])).to.deep.equal(['gateway/forwards:3']);
    expect(steps[0] && values(steps[0])).to.deep.equal(['Inside port: 8100 > 8214']);
  });

  const behindTwo = (outer: object, inner: object): Given => ({
    path: [
      CLIENT,
      CARRIER,
      routerAt('outer', { addresses: ['203.0.113.50'] }, '10.0.0.1/24', { to: '10.0.0.2', ...outer }),
      routerAt('inner', { addresses: ['10.0.0.2/24'] }, '192.168.50.1/24', inner),
      HOST,
    ],
    files: listening(['tcp 0.0.0.0:8214 gullcast']),
  });

  it('of two routers that of the one nearer to the server: what the other one does may stay', () => {
    const both = behindTwo({ toPort: 9214 }, { ports: 9214, toPort: 8100 });
    expect(told(mendSteps(both))).to.deep.equal(['fwd-inside-port at inner', 'answered']);
    const inner = behindTwo({}, { toPort: 8100 });
    expect(told(mendSteps(inner))).to.deep.equal(['fwd-inside-port at inner', 'answered']);
    const outer = behindTwo({ toPort: 8100 }, { ports: 8100 });
    expect(told(mendSteps(outer))).to.deep.equal(['fwd-inside-port at inner', 'answered']);
    const [first] = mendSteps(outer);
    expect(first && values(first)).to.deep.equal(['Inside port: 8100 > 8214']);
    const back = behindTwo({ toPort: 9214 }, { ports: 9214, toPort: 8214 });
    expect(told(mendSteps(back))).to.deep.equal(['answered']);
  });

  it('a row that is off is not the one', () => {
    const row = { protocol: 'tcp', ports: 8214, to: '192.168.50.20', toPort: 8100 };
    const gateway = forwardingGateway({
      rows: [
        { ...row, enabled: false, name: 'old' },
        { ...row, name: 'cast', ports: '8200-8299', toPort: 8086 },
      ],
    });
    const steps = mendSteps({
      path: [CLIENT, CARRIER, gateway, HOST],
      files: listening(['tcp 0.0.0.0:8214 gullcast']),
    });
    expect(told(steps)).to.deep.equal(INSIDE);
    const after = steps[1]?.scene.rows.get('gateway');
    expect(after?.map((r) => [r.name, r.insideFirst])).to.deep.equal([
      ['old', 8100],
      ['cast', 8200],
    ]);
  });
});
