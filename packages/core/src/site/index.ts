export type { InterfaceAddress, Machine, Neighbour, NetInterface, NextHop, PolicyRule, Presumed, Role, Route, Site, Socket } from './machine.ts';
export { everyTransport } from './machine.ts';
export type { SourceRef, Span } from './source.ts';
