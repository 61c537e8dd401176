import { expect } from 'chai';
import { mendCases } from '../testing/index.ts';
import { commandsOf } from './index.ts';

const { linuxGateway, mendSteps, told } = mendCases;

const TO = '192.168.50.20';
const saved = (rule: string) =>
  linuxGateway({
    'gateway/rules':
      '*nat\n:PREROUTING ACCEPT [0:0]\n:POSTROUTING ACCEPT [0:0]\n' +
      `-A PREROUTING ${rule} -j DNAT --to-destination ${TO}\n` +
      'COMMIT\n*filter\n:INPUT DROP [0:0]\n:FORWARD ACCEPT [0:0]\n:OUTPUT ACCEPT [0:0]\nCOMMIT\n',
  });
const nft = (condition: string) =>
  linuxGateway({
    'gateway/rules':
      'table ip nat {\n\tchain pre {\n\t\ttype nat hook prerouting priority dstnat; policy accept;\n' +
      `\t\t${condition} dnat to ${TO}\n\t}\n}\n` +
      'table ip f {\n\tchain i {\n\t\ttype filter hook input priority filter; policy drop;\n\t}\n}\n',
  });

describe('a translation whose condition says what it is not for', () => {
  // What is excluded on purpose is not turned round in the very rule: the service gets one of its own.
  const table: readonly (readonly [string, ReturnType<typeof saved>])[] = [
    [
      '! -s 198.51.100.0/24 -p tcp -m tcp --dport 8214',
      saved('! -s 198.51.100.0/24 -p tcp -m tcp --dport 8214'),
    ],
    ['! -i wan -p tcp -m tcp --dport 8214', saved('! -i wan -p tcp -m tcp --dport 8214')],
    ['! -d 203.0.113.50 -p tcp -m tcp --dport 8214', saved('! -d 203.0.113.50 -p tcp -m tcp --dport 8214')],
    ['-p tcp -m tcp ! --dport 8214', saved('-p tcp -m tcp ! --dport 8214')],
    ['ip saddr != 198.51.100.0/24 tcp dport 8214', nft('ip saddr != 198.51.100.0/24 tcp dport 8214')],
    ['iifname != "wan" tcp dport 8214', nft('iifname != "wan" tcp dport 8214')],
    ['ip daddr != 203.0.113.50 tcp dport 8214', nft('ip daddr != 203.0.113.50 tcp dport 8214')],
    ['tcp dport != 8214', nft('tcp dport != 8214')],
  ];
  for (const [rule, given] of table)
    it(rule, () => {
      const steps = mendSteps(given);
      expect(told(steps)).to.deep.equal(['fwd-none at gateway', 'answered']);
      const commands = steps[0]?.mend ? commandsOf(steps[0].mend).commands.join('\n') : '';
      expect(commands).to.match(/ -I PREROUTING | insert rule /);
      expect(commands).to.not.match(/!/);
    });
});
