import { expect } from 'chai';
import { createPinia, setActivePinia } from 'pinia';
import { bytes, DOCUMENT, freshStores, type TestServices } from '../testing/stores.ts';
import { useAnalysis } from './analysis.ts';
import { useHistory } from './history.ts';
import { useIntake } from './intake.ts';
import { MOST_TEXT } from './intake/files.ts';
import { useNotices } from './notices.ts';
import { useSelection } from './selection.ts';

const SOCKETS =
  'Netid State  Recv-Q Send-Q Local Address:Port Peer Address:PortProcess\n' +
  'tcp   LISTEN 0      16     192.168.50.20:8214  0.0.0.0:*    users:(("gullcast",pid=7,fd=3))\n';
const FORWARDS =
  'Name\tProtocol\tOutside port\tInside address\tInside port\nGullcast\tTCP\t8214\t192.168.50.20\t8214\n';

describe('what comes in', () => {
  let services: TestServices;

  beforeEach(async () => {
    services = await freshStores();
    const id = await services.cabinet.add({ document: DOCUMENT, files: new Map() }, '2026-11-01T10:00:00Z');
    useAnalysis();
    await useHistory().open(id);
  });

  const stops = (): (string | undefined)[] => useHistory().document?.evidence?.map((e) => e.stop) ?? [];
  const said = (): string => useNotices().notice?.text ?? '';

  it('is put where its content says, and looked at there', async () => {
    await useIntake().takeIn(bytes(FORWARDS));
    expect(stops()).to.deep.equal(['gateway']);
    expect(useSelection().openStop).to.equal('gateway');
    expect(said()).to.match(/^Put to Gateway: .*1 fact/);
    await useHistory().undo();
    expect(stops()).to.deep.equal([]);
  });

  it('at once is taken in one after the other, so that each is read beside what came before', async () => {
    const ADDRESSES =
      '1: lo: <LOOPBACK,UP,LOWER_UP> mtu 65536 state UNKNOWN\n    inet 127.0.0.1/8 scope host lo\n' +
      '2: eno1: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n    inet 192.168.50.20/24 scope global eno1\n';
    const intake = useIntake();
    const analysis = useAnalysis();
    const { ask } = analysis;
    let [atOnce, most] = [0, 0];
    analysis.ask = (async (...question: Parameters<typeof ask>) => {
      most = Math.max(most, ++atOnce);
      try {
        await new Promise((done) => setTimeout(done, 5));
        return await ask(...question);
      } finally {
        atOnce--;
      }
    }) as typeof ask;
    await Promise.all([FORWARDS, SOCKETS, ADDRESSES].map((text) => intake.takeIn(bytes(text))));
    expect(intake.pending).to.equal(null);
    expect(stops()).to.deep.equal(['gateway', 'server', 'server']);
    expect(most).to.equal(1);
  });

  it('that nobody understands is a note at the stop that is looked at', async () => {
    useSelection().openStop = 'server';
    await useIntake().takeIn(bytes('the owner says that it worked in spring\n'));
    expect(stops()).to.deep.equal(['server']);
    expect(said()).to.equal('Put to Heron: not understood, kept as a note.');
  });

  it('that is empty, or no text, changes nothing and says why', async () => {
    await useIntake().takeIn(bytes('  \n\n'));
    expect(said()).to.contain('There is nothing in it');
    await useIntake().takeIn(new Uint8Array([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a, 0, 0, 0, 13]));
    expect(said()).to.match(/picture.*Type the line that matters/s);
    expect(useNotices().notice?.kind).to.equal('trouble');
    expect(stops()).to.deep.equal([]);
    expect(useHistory().canUndo).to.equal(false);
  });

  it('waits for its stop where the content leaves it open, and goes where it is sent', async () => {
    await useIntake().takeIn(
      bytes(
        '1: lo: <LOOPBACK,UP,LOWER_UP> mtu 65536 state UNKNOWN\n' +
          '    inet 127.0.0.1/8 scope host lo\n' +
          '2: eth0: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n' +
          '    inet 10.9.8.7/24 scope global eth0\n',
      ),
    );
    const { pending } = useIntake();
    expect(pending?.candidates).to.include.members(['gateway', 'server']);
    expect(stops()).to.deep.equal([]);
    await useIntake().assign('server');
    expect(useIntake().pending).to.equal(null);
    expect(stops()).to.deep.equal(['server']);
  });

  const machine = (address: string): Uint8Array =>
    bytes(
      '1: lo: <LOOPBACK,UP,LOWER_UP> mtu 65536 state UNKNOWN\n' +
        '    inet 127.0.0.1/8 scope host lo\n' +
        '2: eth0: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n' +
        `    inet ${address} scope global eth0\n`,
    );

  it('keeps what comes in while a question is open, and asks about one after the other', async () => {
    const intake = useIntake();
    await intake.takeIn(machine('10.9.8.7/24'));
    await intake.takeIn(machine('10.9.9.7/24'));
    await intake.typeFact('WAN IP 203.O.113.50');
    expect(intake.questions).to.have.length(3);
    expect(stops()).to.deep.equal([]);
    await intake.assign('server');
    expect(stops()).to.deep.equal(['server']);
    expect(intake.pending?.bytes).to.deep.equal(machine('10.9.9.7/24'));
    intake.leaveOut();
    expect(intake.misread?.typed).to.equal('WAN IP 203.O.113.50');
    await intake.sayCharacters(true);
    expect(intake.questions).to.deep.equal([]);
    expect(useHistory().document?.path[2]?.typed?.[0]?.text).to.equal('WAN IP 203.0.113.50');
  });

  it('puts a waiting piece where it belongs as soon as another one tells', async () => {
    const intake = useIntake();
    await intake.takeIn(machine('10.9.8.7/24'));
    await intake.takeIn(machine('192.168.50.20/24'));
    expect(intake.questions).to.have.length(2);
    await intake.takeIn(bytes(FORWARDS));
    // The forward leads to the second one, so that only the first is still asked about.
    expect(stops()).to.deep.equal(['gateway', 'server']);
    expect(intake.pending?.bytes).to.deep.equal(machine('10.9.8.7/24'));
  });

  it('asks again after a reload', async () => {
    await useIntake().takeIn(machine('10.9.8.7/24'));
    const { id } = useHistory().current ?? { id: '' };
    await new Promise((done) => setTimeout(done, 20));
    setActivePinia(createPinia());
    useAnalysis();
    await useHistory().open(id);
    const intake = useIntake();
    for (let i = 0; i < 50 && intake.questions.length === 0; i++)
      await new Promise((done) => setTimeout(done, 10));
    expect(intake.pending?.bytes).to.deep.equal(machine('10.9.8.7/24'));
  });

  it('letters in the place of digits are asked about, and put right only when that is said', async () => {
    const text = 'WAN IP 203.O.113.50\nLAN IP 192.168.50.l\n';
    await useIntake().takeIn(bytes(text));
    expect(useIntake().misread?.lookAlikes.map((l) => `${l.from} ${l.to}`)).to.deep.equal([
      '203.O.113.50 203.0.113.50',
      '192.168.50.l 192.168.50.1',
    ]);
    await useIntake().sayCharacters(true);
    expect(useHistory().document?.evidence?.[0]?.corrections).to.have.length(2);
    await useHistory().undo();
    await useIntake().takeIn(bytes(text));
    await useIntake().sayCharacters(false);
    expect(useHistory().document?.evidence?.[0]?.corrections).to.equal(undefined);
  });

  it('a typed line lives in the case, under its stop', async () => {
    await useIntake().typeFact(' WAN IP 203.0.113.50 ');
    expect(useHistory().document?.path[2]?.typed?.map((t) => t.text)).to.deep.equal(['WAN IP 203.0.113.50']);
    expect(said()).to.equal('Noted at Gateway: WAN IP 203.0.113.50');
    await useIntake().typeFact('   ');
    expect(useHistory().document?.path[2]?.typed).to.have.length(1);
  });

  it('a port or an outcome that is typed is said of the case, and of no device', async () => {
    await useIntake().typeFact('udp 28410');
    expect(useHistory().document?.service?.endpoints).to.deep.include({ protocol: 'udp', port: 28410 });
    expect(said()).to.equal('Noted for the service: udp 28410');
    await useIntake().typeFact('WAN IP 203.0.113.50');
    await useAnalysis().settled();
    await useIntake().typeFact('still times out');
    const seen = useHistory().document?.observations ?? [];
    expect(seen.map((o) => o.outcome)).to.deep.equal(useAnalysis().view?.trial ? ['lost'] : []);
    expect(
      useHistory()
        .document?.path.flatMap((p) => p.typed ?? [])
        .map((t) => t.text),
    ).to.include('WAN IP 203.0.113.50');
  });

  it('a typed line with a misread digit is asked about too', async () => {
    await useIntake().typeFact('WAN IP 203.O.113.50');
    expect(useIntake().misread?.typed).to.equal('WAN IP 203.O.113.50');
    await useIntake().sayCharacters(true);
    expect(useHistory().document?.path[2]?.typed?.[0]?.text).to.equal('WAN IP 203.0.113.50');
  });

  it('columns that were put right are remembered for the next table of the shape, in any case', async () => {
    const intake = useIntake();
    await intake.takeIn(bytes(FORWARDS));
    const { file } = useHistory().document?.evidence?.[0] ?? { file: '' };
    const reading = await useAnalysis().ask('reading', { file });
    const { shape } = reading ?? {};
    if (!shape) throw new Error('no table');
    const columns = { ...shape.columns, roles: [...shape.columns.roles] };
    await intake.setColumns(file, columns, shape.signature);
    expect(useHistory().document?.evidence?.[0]?.columns).to.deep.equal(columns);
    expect(JSON.parse((await services.cabinet.note('table-shapes')) ?? '{}')).to.deep.equal({
      [shape.signature]: columns,
    });
    await intake.takeIn(bytes(FORWARDS.replace('8214\t192', '8299\t192')));
    expect(useHistory().document?.evidence?.[1]?.columns, said()).to.deep.equal(columns);
    expect(said()).to.contain('its columns as you put them right before');
  });

  it('a file that is too large or no text is refused from its beginning', async () => {
    const large = new File([new Uint8Array([65])], 'log.txt');
    Object.defineProperty(large, 'size', { value: MOST_TEXT + 1 });
    await useIntake().takeInFile(large);
    expect(said()).to.match(/^log\.txt has 32 MiB; up to 32 MiB are taken/);
    await useIntake().takeInFile(new File([new Uint8Array([0x50, 0x4b, 3, 4, 0, 0, 0, 0])], 'x.zip'));
    expect(said()).to.match(/^x\.zip is .*, not text/);
    await useIntake().takeInFile(new File([FORWARDS], 'forwards.txt'));
    expect(stops()).to.deep.equal(['gateway']);
  });

  it('reading that is stopped takes nothing in', async () => {
    const analysis = useAnalysis();
    await analysis.settled();
    let go: () => void = () => undefined;
    services.analyst.hold = new Promise((resolve) => (go = resolve));
    const taken = useIntake().takeIn(bytes(`${SOCKETS}${' '.repeat(1024 * 1024)}`));
    await new Promise((resolve) => setTimeout(resolve, 20));
    expect(useIntake().readingSize).to.be.greaterThan(1024 * 1024);
    analysis.stop();
    go();
    await taken;
    expect(said()).to.equal('Stopped; nothing was taken in.');
    expect([stops(), useIntake().readingSize]).to.deep.equal([[], null]);
  });

  it('another case on the bench is asked nothing about the one before', async () => {
    await useIntake().takeIn(bytes('WAN IP 203.O.113.50\n'));
    expect(useIntake().misread).to.not.equal(null);
    const other = await services.cabinet.add(
      { document: DOCUMENT, files: new Map() },
      '2026-11-01T11:00:00Z',
    );
    await useHistory().open(other);
    expect(useIntake().misread).to.equal(null);
  });
});
