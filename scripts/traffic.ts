import { spawnSync } from 'node:child_process';
import { closeSync, openSync, readSync, writeSync } from 'node:fs';
import { join } from 'node:path';
import { CaptureReader, LogReader, type LogLayout } from '@bright-ferry/core/traffic';

type Say = (what: string, value: string) => void;

const CHUNK = 256 << 10;

let seed = 20_261_127;
const below = (n: number): number => ((seed = (Math.imul(seed, 1_103_515_245) + 12_345) >>> 0) >>> 8) % n;
const of = <T>(list: readonly T[]): T => list[below(list.length)] as T;

const PORTS = [22, 23, 80, 443, 3389, 5060, 6379, 8096, 27015];
const MAC = '02:00:00:00:00:01:02:00:00:00:00:02:08:00';

/** One packet of a drop log, in both layouts. */
function logLine(layout: LogLayout, i: number): string {
  const moment = new Date(Date.UTC(2026, 10, 24) + i * 80);
  const [source, to] = [`198.51.100.${24 + below(200)}`, `192.168.50.20`];
  const protocol = of(['TCP', 'TCP', 'UDP', 'ICMP']);
  const isDropped = below(4) > 0;
  const [from, port, size] = [1024 + below(64_000), of(PORTS), 40 + below(1400)];
  const clock = moment.toISOString().slice(11, 19);
  if (layout === 'w3c') {
    const ports = protocol === 'ICMP' ? '- -' : `${from} ${port}`;
    const flags = protocol === 'TCP' ? `S ${below(1e9)} 0 64240 - - -` : '- - - - - - -';
    const date = moment.toISOString().slice(0, 10);
    return (
      `${date} ${clock} ${isDropped ? 'DROP' : 'ALLOW'} ${protocol} ${source} ${to} ${ports} ` +
      `${size} ${flags} RECEIVE\r\n`
    );
  }
  const ports = protocol === 'ICMP' ? 'TYPE=8 CODE=0 ID=7 SEQ=1' : `SPT=${from} DPT=${port} WINDOW=64240 SYN`;
  return (
    `Nov 24 ${clock} plover kernel: [${(i * 0.08).toFixed(6).padStart(13)}] ` +
    `WAN-${isDropped ? 'DENY' : 'OK'}: IN=eth0 OUT= MAC=${MAC} SRC=${source} DST=${to} ` +
    `LEN=${size} TOS=0x00 PREC=0x00 TTL=${40 + below(24)} ID=${below(65_536)} DF ` +
    `PROTO=${protocol} ${ports} URGP=0 \n`
  );
}

function writeLog(file: string, layout: LogLayout, lines: number): void {
  const out = openSync(file, 'w');
  if (layout === 'w3c')
    writeSync(
      out,
      '#Version: 1.5\r\n' +
        '#Fields: date time action protocol src-ip dst-ip src-port dst-port size tcpflags tcpsyn ' +
        'tcpack tcpwin icmptype icmpcode info path\r\n' +
        '\r\n',
    );
  for (let i = 0; i < lines;) {
    let text = '';
    for (let k = 0; k < 10_000 && i < lines; k++, i++) text += logLine(layout, i);
    writeSync(out, text);
  }
  closeSync(out);
}

/** Reads a file piece by piece. @returns milliseconds */
function streamed(file: string, push: (chunk: Uint8Array) => void): number {
  const start = performance.now();
  const opened = openSync(file, 'r');
  // As a file's stream hands them in: of a Buffer the next line break is found with the machine's own memchr.
  const chunk = Buffer.alloc(CHUNK);
  for (let count = readSync(opened, chunk); count > 0; count = readSync(opened, chunk))
    push(count < CHUNK ? chunk.subarray(0, count) : chunk);
  closeSync(opened);
  return performance.now() - start;
}

/** The same grouping for mawk: source, protocol, port and action. */
const AWK: Readonly<Record<LogLayout, string>> = {
  w3c:
    '!/^#/ && NF > 8 { c[$5" "tolower($4)" "($8 == "-" ? 0 : $8)" "$3]++ } END { for (k in ' +
    'c) print k": "c[k] }',
  netfilter:
    '{ match($0, /SRC=[^ ]*/); s = substr($0, RSTART + 4, RLENGTH - 4); match($0, /PROTO=[^ ]*/); ' +
    'p = substr($0, RSTART + 6, RLENGTH - 6); d = 0; if (match($0, /DPT=[^ ]*/)) d = substr($0, ' +
    'RSTART + 4, RLENGTH - 4); match($0, /WAN-[A-Z]*:/); c[s" "tolower(p)" "d" "substr($0, ' +
    'RSTART, RLENGTH)]++ } END { for (k in c) print k": "c[k] }',
};

function other(
  program: string,
  args: readonly string[],
): { readonly ms: number; readonly out: string } | null {
  const start = performance.now();
  const run = spawnSync(program, args, { encoding: 'utf8', maxBuffer: 1 << 28 });
  return run.status === 0 ? { ms: performance.now() - start, out: run.stdout } : null;
}

const median = (list: readonly number[]): number => [...list].sort((a, b) => a - b)[list.length >> 1] ?? NaN;

function logBench(folder: string, say: Say, layout: LogLayout, lines: number): void {
  const file = join(folder, `${layout}-${lines}.log`);
  writeLog(file, layout, lines);
  const own: number[] = [];
  const theirs: number[] = [];
  let told = '';
  let listed = '';
  for (let run = 0; run < 3; run++) {
    const reader = new LogReader(layout, { now: Date.UTC(2026, 10, 27) });
    own.push(streamed(file, (chunk) => reader.push(chunk)));
    told = reader
      .summary()
      .groups.map((g) => `${g.source} ${g.protocol} ${g.port} ${g.action}: ${g.count}`)
      .sort()
      .join('\n');
    const awk = other('mawk', [AWK[layout], file]);
    if (!awk) continue;
    theirs.push(awk.ms);
    listed = awk.out.trim().split('\n').sort().join('\n');
  }
  const memory = Math.round(process.memoryUsage().rss / 1e6);
  const ratio =
    theirs.length > 0
      ? `${(median(own) / median(theirs)).toFixed(2)} of mawk’s ${median(theirs).toFixed(0)} ms, ` +
        `${told === listed ? 'the same groups' : 'OTHER GROUPS'}`
      : 'no mawk here';
  say(`${lines} lines, ${layout}`, `${median(own).toFixed(0)} ms: ${ratio}; ${memory} MB`);
}

/** Handshakes of many clients with a few ports, as raw IP packets (LINKTYPE_RAW). */
function writeCapture(file: string, packets: number): void {
  const out = openSync(file, 'w');
  const head = Buffer.alloc(24);
  head.writeUInt32LE(0xa1b2c3d4, 0);
  head.writeUInt16LE(2, 4);
  head.writeUInt16LE(4, 6);
  head.writeUInt32LE(65_535, 16);
  head.writeUInt32LE(101, 20);
  writeSync(out, head);
  const payload = 260;
  const one = Buffer.alloc(16 + 40 + payload);
  for (let i = 0; i < packets;) {
    const many: Buffer[] = [];
    for (let k = 0; k < 2000 && i < packets; k++, i++) {
      one.writeUInt32LE(1_795_000_000 + (i >> 10), 0);
      one.writeUInt32LE(i & 1023, 4);
      one.writeUInt32LE(40 + payload, 8);
      one.writeUInt32LE(40 + payload, 12);
      one.writeUInt8(0x45, 16);
      one.writeUInt16BE(40 + payload, 18);
      one.writeUInt8(64, 24);
      one.writeUInt8(6, 25);
      const client = [198, 51, 100, 1 + ((i >> 1) % 250)];
      const server = [192, 168, 50, 20];
      const isBack = (i & 1) === 1;
      (isBack ? [...server, ...client] : [...client, ...server]).forEach((v, at) =>
        one.writeUInt8(v, 28 + at),
      );
      const [from, to] = [40_000 + ((i >> 1) % 20), of([8211])];
      one.writeUInt16BE(isBack ? to : from, 36);
      one.writeUInt16BE(isBack ? from : to, 38);
      one.writeUInt8(0x50, 48);
      one.writeUInt8(isBack ? 18 : 2, 49);
      many.push(Buffer.from(one));
    }
    writeSync(out, Buffer.concat(many));
  }
  closeSync(out);
}

function captureBench(folder: string, say: Say, packets: number): void {
  const file = join(folder, `${packets}.pcap`);
  writeCapture(file, packets);
  const own: number[] = [];
  const theirs: number[] = [];
  let count = 0;
  for (let run = 0; run < 3; run++) {
    const reader = new CaptureReader();
    own.push(streamed(file, (chunk) => reader.push(chunk)));
    count = reader.summary().packets;
    const dump = other('sh', ['-c', `tcpdump -nn -r "$1" 2>/dev/null > /dev/null`, 'sh', file]);
    if (dump) theirs.push(dump.ms);
  }
  const ratio =
    theirs.length > 0
      ? `${(median(own) / median(theirs)).toFixed(2)} of tcpdump’s ${median(theirs).toFixed(0)} ms`
      : 'no tcpdump here';
  if (count !== packets) throw new Error(`${count} packets were read of ${packets}`);
  say(`capture of ${count} packets`, `${median(own).toFixed(0)} ms: ${ratio}`);
}

/** Logs and captures as streams, against the programs that people count them with. */
export function trafficBench(folder: string, say: Say): void {
  console.log('\nLogs and captures, read as streams');
  for (const layout of ['w3c', 'netfilter'] as const)
    for (const lines of [100_000, 1_000_000]) logBench(folder, say, layout, lines);
  for (const packets of [100_000, 400_000]) captureBench(folder, say, packets);
}
