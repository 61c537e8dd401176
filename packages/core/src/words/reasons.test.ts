import { expect } from 'chai';
import { reasonLamp, reasonLine, reasonParagraph, type AskReason } from './reasons.ts';

const names = (id: string | null): string => (id === 'host' ? 'Heron' : 'Gateway');

describe('the words of what is asked for', () => {
  const REASONS: readonly (readonly [AskReason, lamp: string, line: string, paragraph: string])[] = [
    [
      { why: 'changed', title: 'Add a forward' },
      'it was changed (Add a forward), and what is here is from before',
      'the gateway was changed (Add a forward), and what is here is from before',
      'It was changed (Add a forward), and what is here is from before.',
    ],
    [
      { why: 'seen-otherwise' },
      'a try shows something else than what is known of it',
      'a try shows something else than what is known of the gateway',
      'A try shows something else than what is known of it.',
    ],
    [
      { why: 'dials' },
      'nobody has said what the client dials',
      'nobody has said what the client dials',
      'Nobody has said what the client dials.',
    ],
    [
      { why: 'not-looked-up', name: 'play.example.net' },
      'play.example.net has not been looked up',
      'play.example.net has not been looked up',
      'play.example.net has not been looked up.',
    ],
    [
      { why: 'outside-address' },
      'its outside address is not known',
      'the outside address of the gateway is not known',
      'Its outside address is not known.',
    ],
    [
      { why: 'outside-not-public' },
      'its outside address is not public; what the internet sees tells what stands before it',
      'the outside address of the gateway is not public; what the internet sees tells what stands before it',
      'Its outside address is not public; what the internet sees tells what stands before it.',
    ],
    [
      { why: 'forwards' },
      'its forwards are not known',
      'the forwards of the gateway are not known',
      'Its forwards are not known.',
    ],
    [
      { why: 'addresses' },
      'its addresses are not known',
      'the addresses of the gateway are not known',
      'Its addresses are not known.',
    ],
    [
      { why: 'rules' },
      'its firewall is not known',
      'the firewall of the gateway is not known',
      'Its firewall is not known.',
    ],
    [
      { why: 'way-out' },
      'its way out is not known',
      'the way out of the gateway is not known',
      'Its way out is not known.',
    ],
    [
      { why: 'listeners' },
      'what listens is not known',
      'what listens on the gateway is not known',
      'What listens is not known.',
    ],
    [
      { why: 'need', need: { need: 'addresses', stop: 'gateway' } },
      'its addresses',
      'the addresses of the gateway',
      'Its addresses.',
    ],
  ];
  for (const [reason, lamp, line, paragraph] of REASONS)
    it(reason.why, () => {
      expect(reasonLamp(reason)).to.equal(lamp);
      expect(reasonLine(reason, 'gateway', names)).to.equal(line);
      expect(reasonParagraph(reason)).to.equal(paragraph);
    });
});
