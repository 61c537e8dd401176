export { bareMachine, withoutSourceCheck } from './factories.ts';
export {
  everyTransport,
  listedPolicy,
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
