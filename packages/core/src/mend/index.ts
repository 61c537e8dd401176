export type { Mend, ValueChange } from './mend.ts';
export { mendChain, proposeMend, type MendStep } from './propose.ts';
export { sceneFrom, type Scene } from './scene.ts';
