import { expect } from 'chai';
import { printed } from '../../facts/index.ts';
import { readText } from '../recognise.ts';

describe('rows of a host firewall as netsh prints them: the structure is read, not the words', () => {
  const RULE = (
    yes: string,
    direction: string,
    profiles: string,
    any: string,
    action: string,
    labels: readonly string[],
  ): string =>
    '\n' +
    `${labels[0]}: Radio hall\n` +
    '----------------------------------------------------------------------\n' +
    [yes, direction, profiles, '', any, 'LocalSubnet', 'TCP', '8214', any, 'No', action]
      .map((v, i) => `${labels[i + 1]}: ${' '.repeat(10)}${v}\n`)
      .join('');
  for (const [language, ...words] of [
    ['English', 'Yes', 'In', 'Domain,Private', 'Any', 'Allow'],
    ['German', 'Ja', 'Eingehend', 'Domäne,Privat', 'Beliebig', 'Zulassen'],
    ['French', 'Oui', 'Entrant', 'Domaine,Privé', 'Tout', 'Autoriser'],
    ['Spanish', 'Sí', 'Entrante', 'Dominio,Privado', 'Cualquiera', 'Permitir'],
    ['Portuguese', 'Sim', 'Entrada', 'Domínio,Particular', 'Qualquer', 'Permitir'],
  ] as const) {
    it(`firewall rows in ${language}`, () => {
      const [yes, direction, profiles, any, action] = words;
      const labels = Array.from({ length: 12 }, (_, i) => `Label ${i}`);
      const reading = readText(RULE(yes, direction, profiles, any, action, labels))!;
      expect(reading.format).to.equal('netsh-rules');
      const row = reading.facts.find((f) => f.kind === 'host-row');
      expect(printed(row!)?.value).to.deep.equal({
        name: 'Radio hall',
        enabled: true,
        direction: 'in',
        profiles: ['domain', 'private'],
        remoteAddresses: ['local-subnet'],
        protocol: 'tcp',
        localPorts: '8214',
        action: 'allow',
      });
      // The short form does not show for which program a row is.
      expect(printed(row!)?.open).to.deep.equal([{ doubt: 'not-shown', fields: ['program'] }]);
    });
  }
});
