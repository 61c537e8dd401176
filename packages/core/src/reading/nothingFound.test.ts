import { expect } from 'chai';
import { readText } from './recognise.ts';

describe('“nothing found” is an answer to what was asked', () => {
  const covers = (text: string, command: string): readonly string[] => readText(text, command)?.covers ?? [];
  const NO_RULES = '\nNo rules match the specified criteria.\n';
  const NO_SOCKETS =
    'Get-NetTCPConnection : No matching MSFT_NetTCPConnection objects found by CIM query for ' +
    'instances of the class on the CIM server: SELECT * FROM MSFT_NetTCPConnection WHERE ' +
    '((LocalPort = 8211)). Verify the value.\n';

  it('of all rows: none; of one name, or without the question: it proves nothing of the rest', () => {
    expect(covers(NO_RULES, 'netsh advfirewall firewall show rule name=all dir=in')).to.deep.equal([
      'host-rows',
    ]);
    expect(covers(NO_RULES, '')).to.deep.equal([]);
  });

  it('of one port, as the message itself says', () =>
    expect(covers(NO_SOCKETS, 'Get-NetTCPConnection -LocalPort 8211')).to.deep.equal([]));
});
