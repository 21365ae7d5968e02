import { ProblemError } from '@/core/problem';
import type { Command } from './command';

/** Loaded when asked for, so that each starts with no more than it needs. */
const commands: Readonly<
  Record<string, { readonly summary: string; readonly load: () => Promise<Command> }>
> = {
  ac: { summary: 'AC solution of a SPICE netlist', load: async () => (await import('./ac')).ac },
  around: {
    summary: 'the whole speaker in every direction',
    load: async () => (await import('./around')).around,
  },
  boards: {
    summary: 'boards of the box in use: sizes, holes, sheets',
    load: async () => (await import('./boards')).boards,
  },
  box: {
    summary: 'a driver in a box: level, excursion, impedance',
    load: async () => (await import('./box')).box,
  },
  built: {
    summary: 'what a built box became, by its impedance',
    load: async () => (await import('./built')).built,
  },
  convert: {
    summary: 'convert a response or impedance',
    load: async () => (await import('./convert')).convert,
  },
  cta2034: {
    summary: 'averages of ANSI/CTA-2034-A from two orbits',
    load: async () => (await import('./cta2034')).cta2034,
  },
  delay: {
    summary: 'excess delay of a response with phase',
    load: async () => (await import('./delay')).delay,
  },
  diffraction: {
    summary: 'what a box makes of a piston in its front',
    load: async () => (await import('./diffraction')).diffraction,
  },
  explore: {
    summary: 'search whole networks from nothing',
    load: async () => (await import('./explore')).explore,
  },
  fit: {
    summary: 'fit the free values of a design to its promises',
    load: async () => (await import('./fit')).fit,
  },
  minphase: {
    summary: 'minimum phase of a response table',
    load: async () => (await import('./minphase')).minphase,
  },
  new: {
    summary: 'make a project file from tables',
    load: async () => (await import('./new')).newProject,
  },
  offset: {
    summary: 'depth offset of two drivers from three measurements',
    load: async () => (await import('./offset')).offset,
  },
  predict: {
    summary: 'predict a design: summary, and every curve on request',
    load: async () => (await import('./predict')).predict,
  },
  splice: {
    summary: 'near field and far field as one response',
    load: async () => (await import('./splice')).splice,
  },
  sweep: {
    summary: 'response and harmonics from a recorded sweep',
    load: async () => (await import('./sweep')).sweep,
  },
  ts: {
    summary: 'driver parameters from impedance',
    load: async () => (await import('./ts')).ts,
  },
};

const overview = `fair: the computation of Fair Voicing from the command line

${Object.entries(commands)
  .map(([name, { summary }]) => `  fair ${name.padEnd(10)} ${summary}`)
  .join('\n')}

fair COMMAND --help tells more and gives an example.
`;

/** Runs the command line; returns the exit code. */
async function main([name, ...args]: readonly string[]): Promise<number> {
  if (name === undefined || name === '--help' || name === 'help') {
    process.stdout.write(overview);
    return name === undefined ? 2 : 0;
  }
  const entry = Object.hasOwn(commands, name) ? commands[name] : undefined;
  if (!entry) {
    process.stderr.write(
      `fair: there is no command ${name}. Commands: ${Object.keys(commands).join(', ')}. See: fair --help\n`,
    );
    return 2;
  }
  const command = await entry.load();
  if (args.includes('--help')) {
    process.stdout.write(`${command.help}\n`);
    return 0;
  }
  try {
    await command.run(args);
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
process.exitCode = await main(process.argv.slice(2));
