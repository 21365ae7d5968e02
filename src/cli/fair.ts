import { ProblemError } from '@/core/problem';
import { ac } from './ac';
import type { Command } from './command';
import { convert } from './convert';
import { predict } from './predict';

const commands: readonly Command[] = [ac, convert, predict];

const overview = `fair: the computation of Fair Voicing from the command line

${commands.map(({ name, summary }) => `  fair ${name.padEnd(10)} ${summary}`).join('\n')}

fair COMMAND --help tells more and gives an example.`;

/** Runs the command line; returns the exit code. */
function main([name, ...args]: readonly string[]): number {
  if (name === undefined || name === '--help' || name === 'help') {
    process.stdout.write(`${overview}\n`);
    return name === undefined ? 2 : 0;
  }
  const command = commands.find((candidate) => candidate.name === name);
  if (!command) {
    process.stderr.write(
      `fair: there is no command ${name}. Commands: ${commands.map((c) => c.name).join(', ')}. See: fair --help\n`,
    );
    return 2;
  }
  if (args.includes('--help')) {
    process.stdout.write(`${command.help}\n`);
    return 0;
  }
  try {
    command.run(args);
    return 0;
  } catch (error) {
    if (!(error instanceof ProblemError)) throw error;
    process.stderr.write(`${error.message}\n`);
    return 2;
  }
}

// A reader that stops early (| head) is no error.
process.stdout.on('error', (error: NodeJS.ErrnoException) => {
  if (error.code === 'EPIPE') process.exit(0);
  throw error;
});
process.exitCode = main(process.argv.slice(2));
