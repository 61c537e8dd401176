export { commandsOf, type Finding, type Mend, type Served, type Target } from './mend.ts';
export { announcedMend, nextConnection } from './announced.ts';
export { keptOutMend } from './logged.ts';
export { mendChain, proposeMend, type MendStep } from './propose.ts';
export { sceneFrom, withMachine, type Scene } from './scene.ts';
