export { arriving, beamOf, floodField, headerValues, splitByHeader, trailOf, withTrail, type Beam, type Headers, type Mapped, type Trail } from './beam.ts';
export { floodChain, type FloodBench, type FloodEnd } from './chains.ts';
