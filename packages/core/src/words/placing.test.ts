import { expect } from 'chai';
import { misplacedText } from './placing.ts';

const NAMES: Readonly<Record<string, string>> = { host: 'Heron', gateway: 'Gateway' };
const names = (id: string | null): string => NAMES[id ?? ''] ?? '';

describe('words of a piece that is another machine’s', () => {
  const rest = '. It counts nowhere until it is moved.';

  it('its way out leads to the stop itself', () =>
    expect(misplacedText({ by: 'own-gateway', address: '192.168.50.1' }, 'gateway', names)).to.equal(
      `Another machine’s: its default route leads to 192.168.50.1, which is Gateway itself${rest}`,
    ));

  it('it names interfaces that the stop does not have', () =>
    expect(misplacedText({ by: 'interfaces', names: ['en0', 'en1'] }, 'host', names)).to.equal(
      `Another machine’s: its routes leave by en0, en1, which Heron does not have${rest}`,
    ));

  it('it listens on the address of another stop', () =>
    expect(
      misplacedText({ by: 'sockets', address: '192.168.50.1', stop: 'gateway' }, 'host', names),
    ).to.equal(`Another machine’s: it listens on 192.168.50.1, which is an address of Gateway${rest}`));
});
