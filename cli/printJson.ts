/** One JSON document and nothing else on the standard output. */
export const printJson = (document: unknown): void => void process.stdout.write(`${JSON.stringify(document)}\n`);
