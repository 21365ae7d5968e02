import { parseArgs, type ParseArgsConfig } from 'node:util';
import { problem } from '@/core/problem';

/** One subcommand of `fair`. */
export interface Command {
  /** Usage, options and a runnable example. */
  readonly help: string;
  run(args: readonly string[]): void | Promise<void>;
}

/**
 * Options and positional arguments of a command; wrong usage is a problem that names the command.
 *
 * @param arity how many positional arguments are wanted
 */
export function readArguments<T extends NonNullable<ParseArgsConfig['options']>>(
  command: string,
  args: readonly string[],
  options: T,
  arity: number,
) {
  const wrong = (what: string) =>
    problem('usage', `fair ${command}`, what, '', `See: fair ${command} --help`);
  try {
    const { values, positionals } = parseArgs({
      args: joinNegativeValues(args),
      options,
      allowPositionals: true,
      strict: true,
    });
    if (positionals.length !== arity)
      throw wrong(`${arity} file${arity === 1 ? '' : 's'} wanted, ${positionals.length} given.`);
    return { values, positionals };
  } catch (error) {
    if (error instanceof TypeError) throw wrong(error.message.split('. ')[0].replace(/\.?$/, '.'));
    throw error;
  }
}

/** `--slope -24` as `--slope=-24`: an option's value may be a negative number. */
const joinNegativeValues = (args: readonly string[]): string[] =>
  args.reduce<string[]>((joined, arg) => {
    const last = joined.at(-1);
    if (/^-\d/.test(arg) && last?.startsWith('--') && !last.includes('='))
      joined[joined.length - 1] = `${last}=${arg}`;
    else joined.push(arg);
    return joined;
  }, []);

/** A number given as an option. */
export function numberOption(command: string, name: string, text: string): number {
  const value = Number(text);
  if (text.trim() === '' || !Number.isFinite(value))
    throw problem(
      'usage',
      `fair ${command}`,
      `--${name} ${text} is not a number.`,
      '',
      `See: fair ${command} --help`,
    );
  return value;
}

/** A number above 0 that must be given as an option. */
export function positiveOption(command: string, name: string, text: string | undefined): number {
  const wrong = (what: string) =>
    problem('usage', `fair ${command}`, what, '', `See: fair ${command} --help`);
  if (text === undefined) throw wrong(`--${name} is missing.`);
  const value = numberOption(command, name, text);
  if (!(value > 0)) throw wrong(`--${name} ${text} is not above 0.`);
  return value;
}

/** Most that a tolerance may be, percent. */
const mostTolerance = 20;

/**
 * A tolerance of parts in percent as a share; 5 % where nothing is said.
 *
 * @throws ProblemError `bad_option`
 */
export function toleranceOf(command: string, text: string | undefined): number {
  const percent = text === undefined ? 5 : Number(text);
  if (text?.trim() !== '' && percent >= 0 && percent <= mostTolerance) return percent / 100;
  throw problem(
    'bad_option',
    `fair ${command} --tolerance`,
    `“${text}” is not a tolerance.`,
    '',
    `Give a number of percent from 0 to ${mostTolerance}.`,
  );
}
