import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect } from 'chai';
import { serve, type Served } from '@bright-ferry/server';
import { headline, openBrowser, paste, type Browser } from './browser.ts';

const KILLS = 100;
/** Latest moment of a kill after the last paste, milliseconds. */
const LATEST = 700;

/** The case as the browser's storage has it: the texts of its evidence, and what is named without bytes. */
interface Stored {
  readonly texts: readonly string[];
  readonly without: readonly string[];
}

describe('a browser that is killed', () => {
  let served: Served;
  const profile = mkdtempSync(join(tmpdir(), 'bright-ferry-killed-'));
  before(async () => {
    served = await serve({ port: 0 });
  });
  after(() => {
    served.close();
    rmSync(profile, { recursive: true, force: true });
  });

  const open = async (): Promise<Browser> => {
    const browser = await openBrowser({ profile, address: served.address });
    await browser.driver.get(`${served.address}case/demo-gullcast`);
    await headline(browser, /./);
    return browser;
  };

  /** Ends every process of the browser at once, as a crash or a power cut does. */
  function kill(): void {
    execFileSync('pkill', ['-9', '-f', `user-data-dir=${profile}`]);
  }

  const keptAt = ({ driver }: Browser): Promise<string> =>
    driver.executeScript(() => document.querySelector('[data-test="kept"]')?.getAttribute('data-at') ?? '');

  const stored = ({ driver }: Browser): Promise<Stored> =>
    driver.executeAsyncScript((done: (s: unknown) => void) => {
      const request = indexedDB.open('bright-ferry');
      request.onsuccess = () => {
        const tx = request.result.transaction(['cases', 'files']);
        const found = tx.objectStore('cases').get('demo-gullcast');
        const files = tx.objectStore('files').getAll();
        tx.oncomplete = () => {
          const named: string[] = found.result.document.evidence.map((e: { file: string }) => e.file);
          const own = files.result.filter((f) => f.caseId === 'demo-gullcast');
          const there = new Map(own.map((f) => [String(f.path), new TextDecoder().decode(f.bytes)]));
          done({
            texts: named.flatMap((f) => there.get(f) ?? []),
            without: named.filter((f) => !there.has(f)),
          });
          request.result.close();
        };
      };
    });

  it(`keeps what it said was kept, ${KILLS} times`, async function () {
    this.timeout(900_000);
    let confirmed: string[] = [];
    for (let n = 0; n < KILLS; n++) {
      const browser = await open();
      const { texts, without } = await stored(browser);
      expect(without, `evidence without bytes after kill ${n}`).to.deep.equal([]);
      for (const note of confirmed) expect(texts, `after kill ${n}`).to.include(note);
      const before = await keptAt(browser);
      const text = `note ${n} of the keeper`;
      await paste(browser, text);
      // Moments from at once to well after the write, the same in each run.
      await browser.driver.sleep((n * 37) % LATEST);
      const isKept = (await keptAt(browser)) !== before;
      kill();
      await browser.driver.quit().catch(() => undefined);
      // What the killed browser left would keep the next one from starting.
      rmSync(join(profile, 'SingletonLock'), { force: true });
      if (isKept) confirmed = [...confirmed, text].slice(-5);
    }
  });
});
