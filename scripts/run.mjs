// Runs a program to its end; its output goes through. Resolves with the exit status.
import { spawn } from 'node:child_process';

export const run = (command, args, options = {}) =>
  new Promise((resolve) => {
    const child = spawn(command, args, { stdio: 'inherit', ...options });
    child.on('error', () => resolve(127));
    child.on('close', (code, signal) => resolve(signal ? 128 : code));
  });

export const root = new URL('..', import.meta.url).pathname;
