import { expect } from 'chai';
import fc from 'fast-check';
import { ref } from 'vue';
import { rowWindow } from './rowWindow.ts';

const HEIGHT = 26;
const ROOM = 520;

describe('the rows of a long table that are drawn', () => {
  it('are those in sight, and together with the room around them as high as all', () =>
    fc.assert(
      fc.property(fc.nat(20_000), fc.nat(600_000), (length, at) => {
        const all = Array.from({ length }, (_, i) => i);
        const { shown, above, below, top } = rowWindow(() => all, HEIGHT, ROOM);
        top.value = Math.min(at, Math.max(0, length * HEIGHT - ROOM));
        expect(above.value + shown.value.length * HEIGHT + below.value).to.equal(length * HEIGHT);
        expect(shown.value.length).to.be.at.most(60);
        const first = Math.floor(top.value / HEIGHT);
        const last = Math.min(length - 1, Math.floor((top.value + ROOM - 1) / HEIGHT));
        if (length > 0) expect(shown.value).to.include.members([first, last]);
        expect(shown.value[0] ?? 0).to.equal(above.value / HEIGHT);
      }),
    ));

  it('follow when rows are sieved', () => {
    const all = ref(Array.from({ length: 1000 }, (_, i) => i));
    const { shown, above, top } = rowWindow(() => all.value, HEIGHT, ROOM);
    top.value = 900 * HEIGHT;
    all.value = [1, 2, 3];
    expect(shown.value).to.deep.equal([1, 2, 3]);
    expect(above.value).to.equal(0);
  });
});
