/** Ends a script with a plain sentence. */
export class Refusal extends Error {}

export const say = (text) => process.stdout.write(`${text}\n`);

/** Runs a script's main part: a refusal is a sentence, anything else its stack; the exit code is 1 for both. */
export async function runScript(main) {
  try {
    await main();
  } catch (error) {
    process.stderr.write(`${error instanceof Refusal ? error.message : (error.stack ?? String(error))}\n`);
    process.exitCode = 1;
  }
}
