// AssemblyScript, compiled by `npm run wasm` into `src/traffic/log/netfilterLines.wasm.ts`: the one loop that
// looks at every byte of a system log, sixteen at a time. What it finds in each line is worked on in
// TypeScript.
//
// All places are addresses in its memory: the text from TEXT on, behind it one record a line.

/** Room before the text: a look back from a line's first byte stays inside. */
const BEFORE: i32 = 64;
/** Bytes of text that are looked at in one call. */
export const ROOM: i32 = 1 << 18;
export const TEXT: i32 = BEFORE;
/** Behind the text one block is read beyond its end. */
export const RECORDS: i32 = TEXT + ROOM + 64;
/** Records that one call writes at most. */
export const MOST: i32 = 4096;
/** Bytes of a record: eleven numbers of 32 bits, as `write` has them. */
export const RECORD: i32 = 44;

/** Whose address stands behind `SRC=`. */
const NO_SOURCE: i32 = 0;
const IPV4: i32 = 1;
const OTHER_SOURCE: i32 = 2;
/** `SRC=` in a line without `IN=`: its beginning is missing. */
const PART: i32 = 3;

const NEWLINE: u32 = 10;
const BLANK: u32 = 32;
const DOT: u32 = 46;
const ZERO: u32 = 48;
const EQUALS: u32 = 61;

// What stands before a `=`, as the little-endian number that its bytes are: four of ` SRC`, ` PROTO` …,
// two of `IN`.
const SRC: u32 = 0x43525320;
const DST: u32 = 0x54534420;
const SPT: u32 = 0x54505320;
const DPT: u32 = 0x54504420;
const ROTO: u32 = 0x4f544f52;
const BLANK_P: u32 = 0x5020;
const IN: u32 = 0x4e49;
/** Without the byte before `SRC`. */
const ANY_BEFORE: u32 = 0xffffff00;

/** A port that no field has named yet. */
const UNSAID: i32 = -2;

/** Where the line begins that the last call of `scan` did not reach. */
export let rest: i32 = 0;

// The line that is being read. 0 as a place: not met yet.
let line: usize = 0;
let lineBefore: usize = 0;
let fields: usize = 0;
let source: i32 = 0;
let sourceKind: i32 = NO_SOURCE;
let destination: usize = 0;
let protocol: usize = 0;
let protocolEnd: usize = 0;
let sourcePort: i32 = UNSAID;
let port: i32 = UNSAID;

function begin(at: usize): void {
  lineBefore = line;
  line = at;
  fields = destination = protocol = protocolEnd = 0;
  source = 0;
  sourcePort = port = UNSAID;
  sourceKind = NO_SOURCE;
}

function write(at: usize, end: usize): void {
  store<i32>(at, <i32>line);
  store<i32>(at, <i32>end, 4);
  store<i32>(at, <i32>fields, 8);
  store<i32>(at, sourceKind, 12);
  store<i32>(at, source, 16);
  store<i32>(at, <i32>destination, 20);
  store<i32>(at, <i32>protocol, 24);
  store<i32>(at, <i32>protocolEnd, 28);
  store<i32>(at, sourcePort == UNSAID ? 0 : sourcePort, 32);
  store<i32>(at, port == UNSAID ? 0 : port, 36);
  store<i32>(at, <i32>(lineBefore != 0 && isSameMoment(line, lineBefore)), 40);
}

/** The IPv4 address before a blank as its number, or none: then `source` is where it stands. */
function readSource(from: usize): void {
  let at = from;
  let value: u32 = 0;
  sourceKind = OTHER_SOURCE;
  source = <i32>from;
  for (let i = 0; i < 4; i++) {
    let octet: u32 = <u32>load<u8>(at) - ZERO;
    if (octet > 9) return;
    let c: u32 = load<u8>(++at);
    while (c - ZERO <= 9 && octet <= 255) {
      octet = octet * 10 + c - ZERO;
      c = load<u8>(++at);
    }
    if (octet > 255 || c != (i < 3 ? DOT : BLANK)) return;
    value = (value << 8) | octet;
    at++;
  }
  sourceKind = IPV4;
  source = <i32>value;
}

/** A port; -1: none stands there. */
function portAt(from: usize): i32 {
  let at = from;
  let value: u32 = 0;
  for (let c: u32 = load<u8>(at); c - ZERO <= 9; c = load<u8>(++at)) {
    value = value * 10 + c - ZERO;
    if (value > 65535) return -1;
  }
  return at == from ? -1 : <i32>value;
}

function wordEnd(from: usize): usize {
  let at = from;
  while (<u32>load<u8>(at) > BLANK) at++;
  return at;
}

/** Whether two lines have the same moment at their head: `Nov 24 17:02:11` or `2026-11-24T17:02:11`. */
function isSameMoment(one: usize, other: usize): bool {
  const first = v128.xor(v128.load(one), v128.load(other));
  const rest = v128.xor(v128.load(one, 3), v128.load(other, 3));
  return !v128.any_true(v128.or(first, rest));
}

/** One field, by its `=`. Of two of a name the first counts: an ICMP error repeats a header. */
function field(at: usize): void {
  if (fields == 0) {
    if (at >= line + 2 && <u32>load<u16>(at - 2) == IN) fields = at - 2;
    else if (at >= line + 3 && (load<u32>(at - 4) & ANY_BEFORE) == (SRC & ANY_BEFORE)) sourceKind = PART;
    return;
  }
  const key = load<u32>(at - 4);
  if (key == SRC) {
    if (sourceKind == NO_SOURCE || sourceKind == PART) readSource(at + 1);
  } else if (key == DST) {
    if (destination == 0) destination = at + 1;
  } else if (key == ROTO) {
    if (protocol == 0 && <u32>load<u16>(at - 6) == BLANK_P) {
      protocol = at + 1;
      protocolEnd = wordEnd(at + 1);
    }
  } else if (key == SPT) {
    if (sourcePort == UNSAID) sourcePort = portAt(at + 1);
  } else if (key == DPT) {
    if (port == UNSAID) port = portAt(at + 1);
  }
}

/**
 * Writes a record for each line of a text whose last byte ends a line, and leaves in `rest` where it stopped.
 * @returns how many records there are
 */
export function scan(from: i32, end: i32): i32 {
  let count = 0;
  let record: usize = RECORDS;
  const equals = i8x16.splat(<i8>EQUALS);
  const newline = i8x16.splat(<i8>NEWLINE);
  const eight = i8x16.splat(<i8>0xf8);
  const fromP = i8x16.splat(0x50);
  const letterI = i8x16.splat(0x49);
  line = 0;
  begin(from);
  for (let block: usize = from; block < <usize>end; block += 16) {
    const bytes = v128.load(block);
    // Two before the `=` of every field that is looked for stands one of P to W, or I.
    const before = v128.load(block - 2);
    const isOurs = v128.or(i8x16.eq(v128.and(before, eight), fromP), i8x16.eq(before, letterI));
    let marks = i8x16.bitmask(v128.or(v128.and(i8x16.eq(bytes, equals), isOurs), i8x16.eq(bytes, newline)));
    for (; marks != 0; marks &= marks - 1) {
      const at = block + ctz(marks);
      if (at >= <usize>end) break;
      if (<u32>load<u8>(at) == EQUALS) {
        field(at);
        continue;
      }
      write(record, at);
      record += RECORD;
      begin(at + 1);
      if (++count == MOST) {
        rest = <i32>line;
        return count;
      }
    }
  }
  rest = <i32>line;
  return count;
}
