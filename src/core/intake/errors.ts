/** A file that cannot be read: a stable `area/kebab` code and a sentence that says what was wrong, where, and what to do. */
export class IntakeError extends Error {
  constructor(
    readonly code: string,
    message: string,
  ) {
    super(message);
  }
}

/** A file that is whole, and has nothing in it. */
export const holdsNothing = (id: string, label: string) =>
  new IntakeError(`${id}/empty`, `The ${label} was read, but there is no shape in it. Was the selection empty when it was exported?`);
