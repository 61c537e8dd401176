export { posixCollector, powershellCollector } from './collect.ts';
export { COMMANDS, PLACES, shellLine, type Command, type Shell } from './commands.ts';
export { ASKS, isAskKind, isRecorded, type AskKind } from './kinds.ts';
export { SETTINGS_SHELL } from './settings.ts';
export { iptablesShell, nftShell, shellWord } from './shell.ts';
