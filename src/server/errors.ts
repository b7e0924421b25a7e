const BRAND = Symbol.for('scaphos.HttpError');

/** A failure with its HTTP status, a stable code and a sentence that says what was wrong, where, and what to do. */
export class HttpError extends Error {
  readonly [BRAND] = true;

  /** The build gives some routes a copy of this file: what the queue that all share throws is of another copy's class. */
  static [Symbol.hasInstance](x: unknown): boolean {
    return typeof x === 'object' && x !== null && BRAND in x;
  }

  constructor(
    readonly status: number,
    readonly code: string,
    message: string,
    readonly details?: unknown,
  ) {
    super(message);
  }
}

/** The same words whether it is not there or not yours. */
export const notFound = (what: string) =>
  new HttpError(404, 'http/not-found', `There is no such ${what} here. It may have been deleted, or belong to another yard.`);
