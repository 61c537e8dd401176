import { expect } from 'chai';
import { caseFacts, mendCases, serverEvidence } from '../../testing/index.ts';
import { benchView } from './view.ts';

const { CARRIER, filledIn, HOST, NEIGHBOUR, NEIGHBOUR_FILES } = mendCases;

/** A client beside the server dials what leads to the router's outside address, or to the server itself. */
const view = (
  hairpin: boolean | undefined,
  dials = '203.0.113.50:8214',
  files: Record<string, string> = NEIGHBOUR_FILES,
) =>
  benchView(
    caseFacts(
      [NEIGHBOUR, CARRIER, filledIn([{}], hairpin === undefined ? {} : { hairpin }), HOST],
      { ...serverEvidence('192.168.50.20/24', '192.168.50.1', ['tcp 0.0.0.0:8214 gullcast']), ...files },
      {
        service: { name: 'Gullcast', endpoints: [{ protocol: 'tcp', port: 8214 }] },
        client: { address: '192.168.50.77', dials },
      },
    ),
  );
const words = ({ crossing }: ReturnType<typeof view>) =>
  Object.fromEntries(crossing.stops.map((s) => [s.id, s.word]));

describe('a stop that the packet does not cross', () => {
  it('is the carrier of a client inside, where the router turns it round', () => {
    const seen = view(true);
    expect(seen.verdict).to.include({ lamp: 'lit', sure: true });
    expect(words(seen)).to.include({ carrier: 'not on this way', gateway: 'lit · turned', host: 'lit' });
    expect(seen.crossing.stops.find((s) => s.id === 'carrier')).to.include({
      lamp: 'aside',
      caption: 'the packet does not come here',
    });
    // The line goes past it, there and back.
    for (const lane of seen.crossing.wires.flatMap((w) => [w.out, w.back]))
      expect(lane.state).to.equal('carried');
  });

  it('is it as well where the packet ends behind it', () => {
    const seen = view(false);
    expect(seen.verdict).to.include({ lamp: 'shut', sure: true });
    expect(words(seen)).to.include({ carrier: 'not on this way', gateway: 'shut' });
  });

  it('is the router too, where both are in one network', () => {
    expect(words(view(undefined, '192.168.50.20:8214'))).to.include({
      carrier: 'not on this way',
      gateway: 'not on this way',
      host: 'lit',
    });
  });

  it('is not said while the way is not known', () => {
    const seen = view(undefined, '203.0.113.50:8214', {});
    expect(seen.verdict.lamp).to.equal('fogged');
    expect(Object.values(words(seen))).to.not.include('not on this way');
  });
});
