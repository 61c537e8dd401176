import { expect } from 'chai';
import { rowsOf } from '../../testing/index.ts';

const RUSSIAN = 'Имя | Протокол | Внешний порт | Внутренний IP';

describe('tables of forwards in further languages', () => {
  const head = (words: string): string => words.split(' | ').join('\t');
  const row = (state: string): string => `radio\tTCP\t8214\t192.168.50.20\t80\t${state}\n`;
  const table: readonly (readonly [string, string, string])[] = [
    [
      'Nazwa | Protokół | Port zewnętrzny | Adres wewnętrzny | Port wewnętrzny | Stan',
      'Włączony',
      'Wyłączony',
    ],
    ['Namn | Protokoll | Extern port | Intern adress | Intern port | Aktiverad', 'På', 'Av'],
    ['Nome | Protocollo | Porta esterna | IP interno | Porta interna | Stato', 'Abilitato', 'Disabilitato'],
    ['名前 | プロトコル | 外部ポート | 内部IP | 内部ポート | 状態', '有効', '無効'],
    ['名称 | 协议 | 外部端口 | 内部地址 | 内部端口 | 状态', '启用', '禁用'],
    ['이름 | 프로토콜 | 외부 포트 | 내부 IP | 내부 포트 | 상태', '사용', '사용안함'],
    [`${RUSSIAN} | Внутренний порт | Состояние`, 'Включено', 'Выключено'],
    ['Název | Protokol | Externí port | Interní adresa | Interní port | Stav', 'Zapnuto', 'Vypnuto'],
  ];
  for (const [heading, on, off] of table)
    it(heading, () => {
      const text = `${head(heading)}\n${row(on)}${row(off)}${row('—?—')}`;
      const known = 'radio: tcp 8214 to 192.168.50.20:80';
      expect(rowsOf(text)).to.deep.equal([known, `${known} off`, `${known} on?`]);
    });
});
