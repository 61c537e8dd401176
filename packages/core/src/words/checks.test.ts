import { expect } from 'chai';
import { ASKS, type AskKind } from '../asks/index.ts';
import { asksOf, checkWords } from './checks.ts';

describe('what can be asked for', () => {
  for (const yields of ASKS) {
    it(`${yields}: a title, words for the owner, and commands or click paths`, () => {
      const words = checkWords(yields, 'the gateway', 'play.example.net', 8214);
      expect(words.title)
        .to.match(/\S/)
        .and.to.not.match(/undefined|PORT/);
      expect(words.message.length).to.be.greaterThan(20);
      expect(words.commands.length).to.be.greaterThan(0);
      expect(words.minutes).to.be.within(1, 15);
      expect(words.commands.map((c) => c.text).join(' ')).to.not.match(/undefined|null/);
    });
  }

  it('machines are asked on all their systems, gateways by their page, perimeters by the console', () => {
    const systems = (yields: AskKind): string[] => checkWords(yields, 'x').commands.map((c) => c.system);
    for (const yields of ['addresses', 'routes', 'sockets', 'rules', 'neighbours'] as const)
      expect(systems(yields), yields).to.include.members(['linux', 'windows', 'macos']);
    for (const yields of ['status', 'forwards', 'leases', 'mappings', 'rules', 'drop-log'] as const)
      expect(systems(yields), yields).to.include('page');
    for (const yields of ['allow-list', 'addresses', 'rules'] as const)
      expect(systems(yields), yields).to.include('cloud');
  });

  it('commands only read', () => {
    for (const yields of ASKS)
      for (const { text } of checkWords(yields, 'x').commands)
        expect(text, yields).to.not.match(/\b(?:add|delete|flush|insert|rm|reset|restart)\b/);
  });

  it('names the service’s port where it is known', () =>
    expect(checkWords('capture', 'x', null, 8214).commands[0]!.text).to.contain('port 8214'));

  it('every role of a path can be asked for something', () => {
    for (const role of ['client', 'carrier', 'edge', 'gateway', 'relay', 'host'] as const)
      expect(asksOf(role).length, role).to.be.greaterThan(0);
    expect(asksOf('host').slice(0, 3)).to.deep.equal(['addresses', 'sockets', 'rules']);
  });
});
