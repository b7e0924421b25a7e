/** The command line. Reads its words, calls one command, turns failures into plain sentences. */
import { spawn } from 'node:child_process';
import { stat } from 'node:fs/promises';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import { Kind } from '@/core/intake';
import { addAccount } from './account';
import { rootDir } from './data';
import { CliFailure, say } from './failure';
import { type InspectOptions, inspectCommand, inspectSchema } from './inspect';
import { serve } from './serve';
import { buildSite } from './site';

const USAGE = `Use: ./scaphos COMMAND

  demo [--port N] [--host H] [--fresh]    start with the demo data; --fresh starts over
  start [--port N] [--host H]             start without demo data
  account add --email A [--name N] [--yard Y] [--password P]   (or SCAPHOS_PASSWORD)
  inspect FILE… [--json] [--as KIND] [--fix all --out PATH]
                                          what Stock says of a file; exit 0 read, 1 with a blocker, 2 not readable.
                                          KIND: ${Kind.options.join(', ')}.
                                          --fix all writes the mended file to PATH, a folder for several files
  schema inspect                          JSON Schema of one line of inspect --json
  test [lint|unit|server|browser]         every test, or one kind
  bench [intake]                          speed and memory, as ratios in one run; intake: compared with another reader
  build                                   build the application

All state lives in SCAPHOS_DATA (default: .data beside this program).`;

const OPTIONS = {
  json: { type: 'boolean' },
  as: { type: 'string' },
  fix: { type: 'string' },
  out: { type: 'string' },
  fresh: { type: 'boolean' },
  port: { type: 'string' },
  host: { type: 'string' },
  email: { type: 'string' },
  name: { type: 'string' },
  yard: { type: 'string' },
  password: { type: 'string' },
  help: { type: 'boolean', short: 'h' },
} as const;
type OptionName = keyof typeof OPTIONS;

/** Which options each command knows. */
const KNOWN: Record<string, OptionName[]> = {
  demo: ['port', 'host', 'fresh'],
  start: ['port', 'host'],
  account: ['email', 'name', 'yard', 'password'],
  inspect: ['json', 'as', 'fix', 'out'],
  schema: [],
  test: [],
  bench: [],
  build: [],
};

const usage = (why: string) => new CliFailure(`${why}\n\n${USAGE}`, 64);

function readWords(argv: string[]) {
  try {
    return parseArgs({ args: argv, options: OPTIONS, allowPositionals: true });
  } catch (error) {
    throw usage((error as Error).message);
  }
}

function readPort(text: string | undefined): number {
  const port = text === undefined ? 4780 : Number(text);
  if (!Number.isInteger(port) || port < 1 || port > 65535) throw usage(`--port takes a whole number from 1 to 65535, not ${text}.`);
  return port;
}

async function readInspectOptions(
  values: { json?: boolean; as?: string; fix?: string; out?: string },
  files: number,
): Promise<InspectOptions> {
  const kind = values.as === undefined ? null : Kind.safeParse(values.as);
  if (kind && !kind.success) throw usage(`--as takes one of ${Kind.options.join(', ')}, not ${values.as}.`);
  if (values.fix !== undefined && values.fix !== 'all') throw usage(`--fix takes all, not ${values.fix}.`);
  if ((values.fix === undefined) !== (values.out === undefined)) throw usage('--fix all and --out PATH belong together.');
  const folder = values.out !== undefined && (await stat(values.out).catch(() => null))?.isDirectory();
  if (values.out !== undefined && files > 1 && !folder)
    throw usage(`For several files --out must be a folder that is there; ${values.out} is not.`);
  return {
    json: values.json ?? false,
    kind: kind?.data ?? null,
    out: values.out === undefined ? null : { path: values.out, folder: !!folder },
  };
}

/** Hands over to a script, its signals and its exit code. */
function handOver(script: string, args: string[]): Promise<number> {
  const child = spawn(join(rootDir(), script), args, { cwd: rootDir(), stdio: 'inherit' });
  for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, () => child.kill(signal));
  return new Promise((resolve) => child.on('exit', (code) => resolve(code ?? 1)));
}

async function main(argv: string[]): Promise<number> {
  const { values, positionals } = readWords(argv);
  const [command, ...rest] = positionals;
  if (values.help) {
    process.stdout.write(`${USAGE}\n`);
    return 0;
  }
  if (!command || !Object.hasOwn(KNOWN, command)) throw usage(command ? `There is no command ${command}.` : 'Say what to do.');
  const stray = Object.keys(values).find((v) => !KNOWN[command].includes(v as OptionName));
  if (stray) throw usage(`${command} knows no --${stray}.`);
  switch (command) {
    case 'inspect':
      if (rest.length === 0) throw usage('inspect needs at least one file.');
      return inspectCommand(rest, await readInspectOptions(values, rest.length));
    case 'schema':
      if (rest.join(' ') !== 'inspect') throw usage('The one schema there is is that of inspect.');
      process.stdout.write(`${JSON.stringify(inspectSchema(), null, 1)}\n`);
      return 0;
    case 'account':
      if (rest.join(' ') !== 'add') throw usage('The one thing account does is add.');
      return addAccount(values);
    case 'test':
      return handOver('scripts/test', rest);
    case 'bench':
      return handOver('scripts/bench', rest);
    case 'build':
      await buildSite();
      return 0;
    default:
      if (rest.length > 0) throw usage(`${command} takes no ${rest[0]}.`);
      return serve({
        demo: command === 'demo',
        fresh: values.fresh ?? false,
        port: readPort(values.port),
        host: values.host ?? '127.0.0.1',
      });
  }
}

main(process.argv.slice(2)).then(
  (code) => {
    process.exitCode = code;
  },
  (error: unknown) => {
    if (error instanceof CliFailure) {
      say(error.message);
      process.exitCode = error.exitCode;
    } else {
      say(`Something went wrong in Scaphos itself: ${(error as Error).stack ?? error}`);
      process.exitCode = 70;
    }
  },
);
