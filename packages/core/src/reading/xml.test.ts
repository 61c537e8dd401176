import { expect } from 'chai';
import { printed } from '../facts/index.ts';
import { readText } from './recognise.ts';
import { xmlElements, xmlValues } from './xml.ts';

describe('elements of an XML text', () => {
  it('by their local names, with their own text', () => {
    expect(xmlElements('<a xmlns:u="x"><u:b>1</u:b><c d="2"> two </c></a>')).to.deep.equal([
      { name: 'b', text: '1' },
      { name: 'c', text: 'two' },
      { name: 'a', text: '' },
    ]);
  });

  it('entities and character data are resolved, names keep their case', () => {
    const values = xmlValues('<r><NewName>Tide &amp; Co &lt;x&gt;</NewName><D><![CDATA[a < b]]></D></r>');
    expect(values.get('NewName')).to.equal('Tide & Co <x>');
    expect(values.get('D')).to.equal('a < b');
    expect(values.get('newname')).to.equal(undefined);
  });

  it('of several elements of a name the first', () =>
    expect(xmlValues('<r><v>1</v><v>2</v></r>').get('v')).to.equal('1'));

  it('what breaks off, or is no XML, is as much as can be read', () => {
    expect(xmlValues('HTTP/1.1 200 OK\n\n<r><v>1</v><w>2').get('v')).to.equal('1');
    expect(xmlElements('no elements here')).to.deep.equal([]);
  });
});

describe('answers of a gateway (UPnP IGD:2)', () => {
  const soap = (body: string): string =>
    '<?xml version="1.0"?>\n' +
    '<s:Envelope ' +
    `xmlns:s="http://schemas.xmlsoap.org/soap/envelope/"><s:Body>${body}</s:Body></s:Envelope>\n`;
  const told = (text: string): object =>
    Object.fromEntries(
      (readText(text)?.facts ?? []).flatMap((f) => {
        const p = printed(f);
        return p ? [[p.group, p.value]] : [];
      }),
    );

  it('a mapping, with a description that holds entities', () =>
    expect(
      told(
        soap(
          '<u:GetSpecificPortMappingEntryResponse ' +
            'xmlns:u="urn:x"><NewInternalPort>28410</NewInternalPort><NewInternalClient>' +
            '192.168.50.20</NewInternalClient><NewEnabled>0</NewEnabled><NewPortMappingDescription>Tide ' +
            '&amp; ' +
            'Co</NewPortMappingDescription><NewLeaseDuration>3600</NewLeaseDuration>' +
            '</u:GetSpecificPortMappingEntryResponse>',
        ),
      ),
    ).to.deep.equal({
      mapping: {
        internalAddress: '192.168.50.20',
        internalPort: 28410,
        description: 'Tide & Co',
        lease: 3600,
        enabled: false,
      },
      action: 'GetSpecificPortMappingEntry',
    }));

  it('the outside address, and an error with its words', () => {
    expect(
      told(
        soap(
          '<u:GetExternalIPAddressResponse ' +
            'xmlns:u="urn:x"><NewExternalIPAddress>203.0.113.50</NewExternalIPAddress>' +
            '</u:GetExternalIPAddressResponse>',
        ),
      ),
    ).to.deep.include({ externalAddress: '203.0.113.50' });
    expect(
      told(
        soap(
          '<s:Fault><detail><UPnPError ' +
            'xmlns="urn:x"><errorCode>718</errorCode><errorDescription>' +
            'ConflictInMappingEntry</errorDescription></UPnPError></detail></s:Fault>',
        ),
      ),
    ).to.deep.include({ errorCode: 718, errorDescription: 'ConflictInMappingEntry' });
  });
});
