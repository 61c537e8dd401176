/** What is left to do where nothing is asked and nothing is to be mended. */
export type Done = 'try-again' | 'tell';

export interface DoneWords {
  readonly title: string;
  readonly text: string;
}

/** `service`: what the program is called. */
export function doneWords(done: Done, service: string | null): DoneWords {
  switch (done) {
    case 'try-again':
      return {
        title: 'Let the client try again',
        text:
          'Everything that is known lets the packet through and the answer back. If it still fails, the ' +
          `next to look at is what ${service ?? 'the program'} itself says.`,
      };
    case 'tell':
      return {
        title: 'Tell what the client sees',
        text:
          'Nothing further can be asked that would decide this. Put what the client sees into the case, ' +
          'and hand it over.',
      };
  }
}
