import { expect } from 'chai';
import { readText } from '../recognise.ts';

const said = (line: string): (readonly [string, string])[] =>
  (readText(`Internet\nWAN IP: 203.0.113.50\n${line}\n`)?.facts ?? []).flatMap((f) =>
    f.kind === 'labelled' && f.what !== 'wan-address' ? [[f.what, f.value] as const] : [],
  );

describe('lines of a status page', () => {
  for (const [line, expected] of [
    ['Connection: down, no link', [['line-state', 'down']]],
    ['Connection: up', [['line-state', 'up']]],
    // The kind of a connection is no state of it, whatever words stand in it.
    ['Connection: PPPoE, backup line inactive', []],
    ['Line state: not connected', [['line-state', 'down']]],
    ['Hairpin: off', [['hairpin', 'off']]],
    ['NAT loopback: enabled', [['hairpin', 'on']]],
    ['Public address: none', [['no-public-address', 'none']]],
  ] as const)
    it(line, () => expect(said(line)).to.deep.equal(expected));
});

describe('addresses of a status page', () => {
  /** `wan-address 203.0.113.50 at 2:4`: what, where it stands. */
  const told = (text: string): string[] =>
    (readText(text)?.facts ?? []).flatMap((f) =>
      f.kind === 'labelled' ? [`${f.what} ${f.value} at ${f.at.line}:${f.at.column}`] : [],
    );
  const table: readonly (readonly [string, string, readonly string[]])[] = [
    [
      'below what they are called',
      'WAN IP address\n203.0.113.50\nLAN IP address\n192.168.50.1\n',
      ['wan-address 203.0.113.50 at 2:0', 'lan-address 192.168.50.1 at 4:0'],
    ],
    [
      'below plain words for them',
      'Internet\nStatus\nConnected\nIP address\n203.0.113.50\nSubnet mask\n255.255.255.0\n' +
        'Default gateway\n203.0.113.1\n',
      ['wan-address 203.0.113.50 at 5:0', 'other 255.255.255.0 at 7:0', 'default-gateway 203.0.113.1 at 9:0'],
    ],
    ['several below one word are a list', 'Public servers\n203.0.113.9\n203.0.113.10\n', []],
    [
      'in a program’s export',
      '{\n "wan": { "ip": "203.0.113.50", "mask": "255.255.255.0" },\n "lan_ip": "192.168.50.1"\n}\n',
      ['wan-address 203.0.113.50 at 2:17', 'other 255.255.255.0 at 2:41', 'lan-address 192.168.50.1 at 3:12'],
    ],
    [
      'one line that names its side, among words',
      'Hi,\nI looked at it.\nWAN IP: 203.0.113.50\nThanks\nAnna\n',
      ['wan-address 203.0.113.50 at 3:8'],
    ],
    [
      'what a service of the web sees',
      'Your IP address is 203.0.113.50\n',
      ['seen-address 203.0.113.50 at 1:19'],
    ],
    ['the same as a program asks for it', '{"ip":"203.0.113.50"}\n', ['seen-address 203.0.113.50 at 1:7']],
    [
      'of two lines the one in use',
      'WAN1 - Connected - 203.0.113.50\nWAN2 - Standby - 100.72.14.9\n',
      ['wan-address 203.0.113.50 at 1:19', 'previous-address 100.72.14.9 at 2:17'],
    ],
    ['one that names none, among words', 'Hi,\nI looked at it.\nIP: 203.0.113.50\nThanks\nAnna\n', []],
  ];
  for (const [title, text, expected] of table) it(title, () => expect(told(text)).to.deep.equal(expected));
});
