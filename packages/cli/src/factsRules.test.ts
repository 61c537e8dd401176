import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect } from 'chai';
import { readFile } from './readCommand.ts';

describe('facts of a rule set', () => {
  it('name its sets, with their elements as they are printed', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'bright-ferry-facts-'));
    const file = join(folder, 'set.txt');
    writeFileSync(
      file,
      'table inet quay {\n' +
        '\tset staff {\n' +
        '\t\ttype ipv4_addr\n' +
        '\t\tflags interval,timeout\n' +
        '\t\telements = { 192.168.50.0/24, 192.0.2.7-192.0.2.9, 192.0.2.1 timeout 1h }\n' +
        '\t}\n' +
        '}\n',
    );
    const read = await readFile(file);
    rmSync(folder, { recursive: true });
    expect(JSON.parse(JSON.stringify(read)).facts.sets).to.deep.equal([
      {
        is: 'set',
        family: 'inet',
        table: 'quay',
        name: 'staff',
        elements: ['192.168.50.0/24', '192.0.2.7-192.0.2.9', '192.0.2.1'],
        line: 2,
      },
    ]);
  });
});
