/** A file that cannot be read: a stable `area/kebab` code and a sentence that says what was wrong, where, and what to do. */
export class IntakeError extends Error {
  constructor(
    readonly code: string,
    message: string,
  ) {
    super(message);
  }
}
