// How the scripts speak, and how they stop.

export const say = (text) => console.log(text);

/** Ends the script with a message for people: what is missing and how to mend it. No stack. */
export class Stop extends Error {}

/** Runs a script's main function; a Stop prints its message alone. */
export async function runMain(main) {
  try {
    await main();
  } catch (error) {
    if (error instanceof Stop) console.error(`\n${error.message}`);
    else console.error(error);
    process.exit(1);
  }
}
