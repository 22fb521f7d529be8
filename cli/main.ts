import { Command, CommanderError } from "commander";
import { isUserError } from "../core/model/userError";
import { VERBS, type Run } from "./commands";

/** Exit codes: 0 fine; 1 ran, and found errors by the profile; 2 bad usage or unreadable input. */
export async function main(argv: string[]): Promise<void> {
  const program = new Command("yxomorph")
    .description(
      "Check, pose, correct and convert characters. The same core as the application; no database, no network.",
    )
    .exitOverride()
    .showSuggestionAfterError(false)
    .configureOutput({
      writeErr: (text) => process.stderr.write(`${text.replace(/^error: /, "yxomorph: ").split("\n")[0]}\n`),
    });
  let exit = 0;
  const run: Run =
    (load) =>
    async (...args) => {
      exit = await (await load())(...args);
    };
  for (const add of VERBS) add(program, run);
  try {
    await program.parseAsync(argv);
  } catch (error) {
    process.exitCode = told(error);
    return;
  }
  process.exitCode = exit;
}

/** Says in one line what went wrong. @returns the exit code. */
function told(error: unknown): number {
  if (error instanceof CommanderError) return error.exitCode === 0 ? 0 : 2;
  const code = (error as NodeJS.ErrnoException | null)?.code;
  let line = `a fault in the program: ${(error instanceof Error ? error.message : String(error)).replace(/\s+/g, " ")}`;
  if (isUserError(error)) line = error.message.replace(/\s+/g, " ");
  else if (typeof code === "string" && /^(E[A-Z]+|ERR_INVALID_ARG_VALUE|ERR_FS_.*)$/.test(code))
    line = `a file or folder cannot be used as it was named (${code}).`;
  process.stderr.write(`yxomorph: ${line}\n`);
  return 2;
}

process.stdout.on("error", (error: NodeJS.ErrnoException) => {
  if (error.code === "EPIPE") process.exit(0);
});
