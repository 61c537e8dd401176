import { expect } from 'chai';
import { inSentence } from './named.ts';

describe('stops in sentences', () => {
  it('names of people’s machines keep their letters', () =>
    expect([inSentence('Tunnel’s far end'), inSentence('NAS 2'), inSentence('Server')]).to.deep.equal([
      'Tunnel’s far end',
      'NAS 2',
      'the server',
    ]));
});
