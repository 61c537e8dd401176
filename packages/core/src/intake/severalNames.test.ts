import { expect } from 'chai';
import { checkCaseDocument } from '../case/index.ts';
import { caseFromIntake } from './newCase.ts';
import { heardOf, withHeard } from './heard.ts';
import { readComplaint } from './line.ts';

const NOW = '2026-11-01T10:00:00Z';

describe('several names and addresses that are dialled', () => {
  const line = 'archivist, tcp 80, www.gannet.example.net and archive.gannet.example.net from 198.51.100.23';

  it('are read from the complaint, the first one first, and never taken for the client', () => {
    const read = readComplaint(line);
    expect(read).to.include({ dials: 'www.gannet.example.net', client: '198.51.100.23' });
    expect(read.alsoDials).to.deep.equal(['archive.gannet.example.net']);
    const two = readComplaint('the archive, tcp 80, 203.0.113.51 or 203.0.113.52 from 198.51.100.23');
    expect(two).to.deep.include({ dials: '203.0.113.51', alsoDials: ['203.0.113.52'] });
  });

  it('an address behind a name, where nobody else is named, is the client’s and not dialled', () => {
    const read = readComplaint('radio, tcp 8214, radio.example.net, 198.51.100.23, times out');
    expect(read).to.deep.include({ dials: 'radio.example.net', client: '198.51.100.23', alsoDials: [] });
  });

  it('stand in one field, and are put right there; a comma without a blank stays a slip', () => {
    const document = caseFromIntake(readComplaint(line), NOW);
    const heard = heardOf(document);
    expect(heard.dials).to.equal('www.gannet.example.net, archive.gannet.example.net');
    expect(withHeard(document, heard).client).to.deep.equal(document.client);
    const one = withHeard(document, { ...heard, dials: '203.0.113.50,8080' }).client;
    expect(one?.dials).to.equal('203.0.113.50,8080');
    expect(one).to.not.have.property('alsoDials');
    checkCaseDocument(JSON.parse(JSON.stringify(document)));
  });

  const SENDER = 'tcp 8214, from 198.51.100.23';
  const ROWS: readonly [string, string | null, readonly string[]][] = [
    ['radio.example.net, mail kim.lee@example.net', 'radio.example.net', []],
    ['kim@example.net dials radio.example.net', 'radio.example.net', []],
    ['reef.exe cannot reach play.example.net, see shot.png', 'play.example.net', []],
    ['client v1.2.3.4 dials 203.0.113.50', '203.0.113.50', []],
    ['config.yml says bind 0.0.0.0, dials 203.0.113.50', '203.0.113.50', []],
    ['radio.example.net, the server is 192.168.50.20', 'radio.example.net', []],
    ['pings www.example.net, cannot reach play.example.net', 'www.example.net', []],
    ['a.example.net, b.example.net and c.example.net', 'a.example.net', ['b.example.net', 'c.example.net']],
    ['the photos.json of nobody', null, []],
  ];
  for (const [text, dials, alsoDials] of ROWS)
    it(`“${text}”`, () =>
      expect(readComplaint(`${text}, ${SENDER}`)).to.deep.include({
        dials,
        alsoDials,
        client: '198.51.100.23',
      }));
});
