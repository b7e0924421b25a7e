/** A failure the user can do something about: printed as one plain sentence, no stack trace. */
export class CliFailure extends Error {
  constructor(
    message: string,
    /** After sysexits: 64 usage, 69 missing tool, 70 internal, 73 cannot write, 75 busy. */
    readonly exitCode: number,
  ) {
    super(message);
  }
}
export const say = (text: string) => process.stderr.write(`${text}\n`);
