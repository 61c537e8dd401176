export { Reference, type Seen } from './reference.ts';
export { answersOf, everyPacket, plainOf, setOf, subjectOf, worlds, type World } from './worlds.ts';
