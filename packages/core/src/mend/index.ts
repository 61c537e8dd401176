export { settingsWith } from './settled.ts';
export { commandsOf, type Mend } from './mend.ts';
export { announcedMend, nextConnection } from './announced.ts';
export { keptOutMend } from './logged.ts';
export { programListen, type ListeningProgram } from './programListen.ts';
export { mendChain, proposeMend, type MendStep } from './propose.ts';
export { sceneFrom, withMachine, type Scene } from './scene.ts';
export type { Finding } from './finding.ts';
export type { Served, Target } from './served.ts';
