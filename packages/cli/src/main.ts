import { Command, CommanderError } from 'commander';
import { CaseError } from '@bright-ferry/core/case';
import { TooMuchWork } from '@bright-ferry/core/rules';
import { diagnoseCase, diagnoseText } from './diagnoseCommand.ts';
import { exposureOf, exposureText } from './exposureCommand.ts';
import { loadCase } from './loadCase.ts';
import { readFile } from './readCommand.ts';
import { packetFrom, packetsFrom, traceCase, traceText } from './traceCommand.ts';
import { UsageError } from './errors.ts';

const print = (value: unknown): void => void process.stdout.write(`${JSON.stringify(value, null, 1)}\n`);

function program(): Command {
  const root = new Command('bright-ferry')
    .description('Finds out why an outside client cannot reach a self-hosted server.')
    .exitOverride()
    .configureOutput({ writeErr: (text) => void process.stderr.write(text) });
  root
    .command('read')
    .description('say what each file is and what it says')
    .argument('<file...>')
    .option('--json', 'one JSON document on standard output')
    .action((files: string[], options: { json?: boolean }) => {
      const documents = files.map(readFile);
      if (options.json) print(documents);
      else
        for (const d of documents)
          process.stdout.write(
            `${d.file}: ${d.format ?? 'not recognised'}\n${Object.entries(d.facts)
              .map(
                ([key, v]) => `  ${key}: ${Array.isArray(v) ? v.length : Object.keys(v as object).length}\n`,
              )
              .join('')}${d.problems.map((p) => `  line ${p.line}: ${p.why}: ${p.text}\n`).join('')}`,
          );
    });
  root
    .command('trace')
    .description('follow packets through a case')
    .argument('<case>', 'case folder or .ferry.zip')
    .option('--from <addr>', 'ADDRESS[:PORT] of the client')
    .option('--to <target>', 'ADDRESS:PORT/tcp or …/udp')
    .option('--packets <file>', 'a JSON list of { "from", "to" }')
    .option('--json', 'one JSON document on standard output')
    .action((path: string, options: { from?: string; to?: string; packets?: string; json?: boolean }) => {
      if (
        options.packets !== undefined
          ? options.from !== undefined || options.to !== undefined
          : options.from === undefined || options.to === undefined
      )
        throw new UsageError('give either --from and --to, or --packets FILE');
      const folder = loadCase(path);
      const packets =
        options.packets !== undefined
          ? packetsFrom(options.packets)
          : [packetFrom(options.from, options.to, 'command line')];
      const { documents } = traceCase(folder, packets);
      if (options.json) print(options.packets !== undefined ? documents : documents[0]);
      else process.stdout.write(`${documents.map((d, i) => traceText(d, packets[i]!)).join('\n')}\n`);
    });
  root
    .command('diagnose')
    .description('what is wrong, what to ask next, and what to change')
    .argument('<case>', 'case folder or .ferry.zip')
    .option('--json', 'one JSON document on standard output')
    .action((path: string, options: { json?: boolean }) => {
      const found = diagnoseCase(loadCase(path));
      if (options.json) print(found);
      else process.stdout.write(diagnoseText(found));
    });
  root
    .command('exposure')
    .description('everything that an outside sender can reach')
    .argument('<case>', 'case folder or .ferry.zip')
    .option('--json', 'one JSON document on standard output')
    .action((path: string, options: { json?: boolean }) => {
      const rows = exposureOf(loadCase(path));
      if (options.json) print(rows);
      else process.stdout.write(exposureText(rows));
    });
  root
    .command('serve')
    .description('serve the web application')
    .option('--port <number>', 'port to listen on', '8017')
    .option('--host <address>', 'address to listen on', '127.0.0.1')
    .action(async (options: { port: string; host: string }) => {
      const port = Number(options.port);
      if (!Number.isInteger(port) || port < 0 || port > 65535)
        throw new UsageError(`--port must be a number from 0 to 65535, not ${options.port}`);
      const { serve } = await import('@bright-ferry/server');
      const { address } = await serve({ port, host: options.host });
      process.stdout.write(`Bright Ferry is at ${address}\n`);
    });
  return root;
}

/** Runs the command line. Exit status: 0 done, 2 wrong input or usage, 1 a defect of the program. */
export async function main(argv: readonly string[]): Promise<number> {
  try {
    await program().parseAsync(argv as string[]);
    return 0;
  } catch (error) {
    if (error instanceof CommanderError) return error.exitCode === 0 ? 0 : 2;
    if (error instanceof CaseError || error instanceof UsageError || error instanceof TooMuchWork) {
      process.stderr.write(`bright-ferry: ${error.message}\n`);
      return 2;
    }
    if ((error as NodeJS.ErrnoException).code === 'EADDRINUSE') {
      process.stderr.write(
        'bright-ferry: the port is taken by another program; give another one with --port\n',
      );
      return 2;
    }
    process.stderr.write(
      'bright-ferry: a defect of the program: ' +
        `${error instanceof Error ? (error.stack ?? error.message) : String(error)}\n`,
    );
    return 1;
  }
}
