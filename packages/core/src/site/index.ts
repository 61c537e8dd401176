export { bareMachine, routeTo, withoutSourceCheck } from './factories.ts';
export {
  everyTransport,
  listedPolicy,
  ROUTE_TYPES,
  type InterfaceAddress,
  type Machine,
  type Neighbour,
  type NetInterface,
  type NextHop,
  type PolicyRule,
  type Presumed,
  type Role,
  type Route,
  type Site,
  type Socket,
} from './machine.ts';
