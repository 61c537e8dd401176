import { readText } from '@bright-ferry/core/reading';
import { anew, best, many, ms, say } from './measured.ts';

/** How long a pasted text takes to be read. */
export function readBench(): void {
  console.log('\nReading pasted text');
  for (const lines of [1000, 10_000]) {
    const table =
      'Name\tProtocol\tOutside port\tInside address\tInside port\n' +
      many(lines, (i) => `row ${i}\tTCP\t${1 + (i % 65000)}\t192.168.50.20\t${1 + (i % 65000)}\n`);
    say(`forward table of ${lines} lines`, ms(best(3, () => void readText(anew(table)))));
    const sockets =
      'Netid State Recv-Q Send-Q Local Address:Port Peer Address:PortProcess\n' +
      many(
        lines,
        (i) => `tcp LISTEN 0 128 0.0.0.0:${1 + (i % 65000)} 0.0.0.0:* users:(("p${i}",pid=${i},fd=3))\n`,
      );
    say(`socket listing of ${lines} lines`, ms(best(3, () => void readText(anew(sockets)))));
  }
}
