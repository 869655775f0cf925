import { parseArgs } from 'node:util';
import { UsageError } from './usage.ts';

export interface Options {
  readonly limits?: string;
  readonly asks?: string;
  readonly recipe?: string;
  readonly out?: string;
  readonly report?: string;
  readonly now?: string;
  readonly source?: string;
  readonly slot?: string;
  readonly key?: string;
  readonly series?: string;
  readonly subject?: string;
  readonly then?: string[] | undefined;
  readonly sound?: string;
  readonly blank?: string;
}

const COMMANDS = [
  'inspect',
  'propose',
  'offers',
  'make',
  'prove',
  'verify',
  'read-limits',
  'suggest',
  'align',
  'merge',
] as const;

const TAKES_MORE: ReadonlySet<string> = new Set(['verify', 'align', 'merge']);

/** Takes a command line apart; throws a `UsageError` where it is none. */
export function parseCommandLine(argv: readonly string[]): {
  command: (typeof COMMANDS)[number] | 'help';
  file: string;
  /** Further files: of `verify` any, of `align` the sound, of `merge` the other shots. */
  more: readonly string[];
  options: Options;
} {
  let parsed;
  try {
    parsed = parseArgs({
      args: [...argv],
      allowPositionals: true,
      options: {
        limits: { type: 'string' },
        asks: { type: 'string' },
        recipe: { type: 'string' },
        out: { type: 'string' },
        report: { type: 'string' },
        now: { type: 'string' },
        source: { type: 'string' },
        slot: { type: 'string' },
        key: { type: 'string' },
        series: { type: 'string' },
        subject: { type: 'string' },
        sound: { type: 'string' },
        blank: { type: 'string' },
        then: { type: 'string', multiple: true },
        help: { type: 'boolean', short: 'h' },
      },
    });
  } catch (error) {
    throw new UsageError(error instanceof Error ? error.message : String(error));
  }
  const [rawCommand, file, ...more] = parsed.positionals;
  if (parsed.values.help || rawCommand === 'help') return { command: 'help', file: '', more, options: {} };
  const command = COMMANDS.find((name) => name === rawCommand);
  if (!command) throw new UsageError(rawCommand ? `There is no command "${rawCommand}".` : 'Which command?');
  if (command === 'align' && more.length !== 1) throw new UsageError('align takes a picture and a sound.');
  if (file === undefined || (more.length > 0 && !TAKES_MORE.has(command)))
    throw new UsageError(`${command} takes one file.`);
  return { command, file, more, options: parsed.values };
}
