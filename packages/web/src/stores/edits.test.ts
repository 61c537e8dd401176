import { expect } from 'chai';
import { bytes, DOCUMENT, freshStores } from '../testing/stores.ts';
import { useAnalysis } from './analysis.ts';
import { useEdits } from './edits.ts';
import { useHistory } from './history.ts';
import { useIntake } from './intake.ts';
import { useNotices } from './notices.ts';

const FORWARDS = 'tcp 8214 192.168.50.31 8214\n';
const STATUS = 'WAN IP 203.0.113.50\nLAN IP 192.168.50.1\n';

describe('edits of a case', () => {
  beforeEach(async () => {
    const { cabinet } = await freshStores();
    const id = await cabinet.add({ document: DOCUMENT, files: new Map() }, '2026-11-01T10:00:00Z');
    useAnalysis();
    await useHistory().open(id);
    await useIntake().takeIn(bytes(STATUS));
    await useIntake().takeIn(bytes(FORWARDS));
  });

  const evidence = () => useHistory().document?.evidence ?? [];
  const said = (): string => useNotices().notice?.text ?? '';
  const lastFile = (): string => evidence()[evidence().length - 1]?.file ?? '';

  it('evidence is moved, marked as a part, and removed, a step each', async () => {
    const edits = useEdits();
    const file = lastFile();
    await edits.moveEvidence(file, 'server');
    expect([evidence()[1]?.stop, said()]).to.deep.equal(['server', 'Moved to Heron.']);
    await edits.setPart(file, true);
    expect(evidence()[1]?.part).to.equal(true);
    await edits.setPart(file, false);
    expect(said()).to.equal('Taken for the whole listing.');
    await edits.removeEvidence(file);
    expect(evidence()).to.have.length(1);
    for (let i = 0; i < 4; i++) await useHistory().undo();
    expect(evidence().map((e) => e.stop)).to.deep.equal(['gateway', 'gateway']);
  });

  it('a check that the owner cannot answer is not asked again', async () => {
    await useEdits().decline('gateway/leases');
    expect(useHistory().document?.declined).to.deep.equal(['gateway/leases']);
  });

  it('settings are checked before they are kept', async () => {
    const edits = useEdits();
    const wrong = await edits.setSettings('gateway', {
      kind: 'forward-table',
      rows: [{ protocol: 'tcp', ports: 'many', to: '192.168.50.20' }],
    } as never);
    expect(wrong)
      .to.be.a('string')
      .and.to.match(/rows|ports/);
    expect(useHistory().document?.path[2]?.settings).to.equal(undefined);
    const settings = {
      kind: 'forward-table',
      rows: [{ protocol: 'tcp', ports: '8214', to: '192.168.50.20' }],
    } as const;
    expect(await edits.setSettings('gateway', settings)).to.equal(null);
    expect(useHistory().document?.path[2]?.settings).to.deep.equal(settings);
    expect(await edits.setSettings('gateway', null)).to.equal(null);
    expect(useHistory().document?.path[2]?.settings).to.equal(undefined);
  });

  it('a mend that was made makes what is known of its place old', async () => {
    await useIntake().takeIn(
      bytes(
        '2: eno1: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n    inet 192.168.50.20/24 scope global eno1\n',
      ),
    );
    if (useIntake().pending) await useIntake().assign('server');
    const next = useAnalysis().view?.next;
    if (next?.kind !== 'mend') throw new Error(`no mend but ${next?.kind}`);
    await useEdits().changeMade(next.mend);
    expect(useHistory().document?.changes?.map((c) => `${c.stop} ${c.yields}`)).to.deep.equal([
      'gateway forwards',
    ]);
    await useAnalysis().settled();
    expect(useAnalysis().view?.verdict.lamp).to.equal('fogged');
  });

  it('a stop that the evidence put there is refused, with what was sent from it', async () => {
    await useIntake().takeIn(bytes('WAN IP 192.168.1.2\nLAN IP 192.168.50.1\n'));
    await useIntake().takeIn(bytes('seen from outside 203.0.113.50\n'));
    const found = useAnalysis().view?.stops.find((s) => s.found)?.found;
    if (!found) throw new Error('no stop was found');
    await useEdits().refuseStop(found.id);
    expect(useHistory().document?.path).to.have.length(4);
    expect(said()).to.match(/^Taken off the crossing/);
  });
});
